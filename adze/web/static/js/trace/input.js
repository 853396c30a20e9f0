// What stands in an input of a step: yes or no for an arrow, a switch or a tick, else as it was typed.

const YES_OR_NO = ["outward", "opens"];

export function stepValue(input) {
  if (input.type === "checkbox") return input.checked;
  return YES_OR_NO.includes(input.dataset.step) ? input.value === "1" : input.value;
}
