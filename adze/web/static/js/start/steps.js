// One question at a time where the screen is small; the whole form where it is not.

const SMALL = matchMedia("(max-width: 700px)");

export class Steps {
  constructor(form) {
    this.form = form;
    this.questions = Array.from(form.querySelectorAll("fieldset"));
    const wrong = this.questions.findIndex((one) => one.querySelector("[data-test=fault]"));
    this.step = Math.max(0, wrong);
    form.querySelector("[data-before]").addEventListener("click", () => this.go(this.step - 1));
    form.querySelector("[data-next]").addEventListener("click", () => this.go(this.step + 1));
    SMALL.addEventListener("change", () => this.show());
    this.show();
  }

  go(step) {
    this.step = Math.min(Math.max(step, 0), this.questions.length - 1);
    this.show();
    this.form.scrollIntoView({ block: "start" });
    const first = /** @type {HTMLElement} */ (this.questions[this.step].querySelector("input"));
    first.focus({ preventScroll: true });
  }

  show() {
    const { form, questions, step } = this;
    const last = step === questions.length - 1;
    questions.forEach((one, k) => (one.hidden = SMALL.matches && k !== step));
    form.querySelector(".stepping").hidden = !SMALL.matches;
    form.querySelector("[data-before]").hidden = step === 0;
    form.querySelector("[data-next]").hidden = last;
    form.querySelector("[data-step]").textContent = `${step + 1} of ${questions.length}`;
    form.querySelector(".sending").hidden = SMALL.matches && !last;
  }
}
