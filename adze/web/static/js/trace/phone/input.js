// What stands in an input of a step: yes or no for an arrow, a switch or a tick, else as it was typed.

const YES_OR_NO = ["outward", "opens"];

function stepValue(input) {
  if (input.type === "checkbox") return input.checked;
  return YES_OR_NO.includes(input.dataset.step) ? input.value === "1" : input.value;
}

/** What stands in a form of a step; kV of strands are a list, from the ground. */
export function stepsIn(form) {
  const typed = {};
  for (const input of form?.querySelectorAll("[data-step]") ?? []) {
    const { step } = input.dataset;
    if (step === "strand_kv") (typed[step] ??= []).push(input.value);
    else typed[step] = stepValue(input);
  }
  return typed;
}
