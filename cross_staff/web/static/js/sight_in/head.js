// What stands over the arrows, in one line above the target: how far, which pin, what the dial reads. On a phone it is
// confirmed before the first arrow of an end counts; what was tapped before that waits, and is not lost.
const field = (name) => document.getElementById(name);
const chosen = (select) => select.options[select.selectedIndex]?.text ?? "";
const HEAD = ["distance", "pin", "dial", "dial_as", "stands"];

export function headWords() {
  const distance = field("distance"), unit = distance.parentElement.querySelector(".unit")?.textContent ?? "";
  const words = [distance.value.trim() ? `${distance.value.trim()} ${unit}` : "not ranged", chosen(field("pin"))];
  const dial = field("dial");
  if (dial) {
    const as = field("dial_as"), counted = as?.tagName === "SELECT" ? chosen(as) : "mm";
    if (dial.value.trim()) words.push(`dial at ${dial.value.trim()} ${counted}`);
    else words.push(field("stands").value ? `dial ${chosen(field("stands"))}` : "dial not read");
  }
  return words.join(" · ");
}

export class Head {
  // `confirmed` is called when it is said to be so
  constructor(form, opened, confirmed) {
    this.part = field("end-head");
    this.fields = field("end-fields");
    this.yes = field("head-so");
    this.change = field("head-change");
    this.asks = !opened && matchMedia("(max-width: 700px)").matches;
    this.sure = !this.asks;
    this.unknown = field("end-asks").textContent;
    this.part.hidden = false;
    this.part.classList.toggle("asks", this.asks);
    const wrong = this.fields.querySelector("[aria-invalid=true], .error");
    this.fold(!wrong);
    this.yes.addEventListener("click", () => { this.say(true); confirmed(); });
    this.change.addEventListener("click", () => {
      this.fold(!this.fields.classList.contains("folded"));
      if (!this.fields.classList.contains("folded")) field("distance").focus();
    });
    for (const event of ["input", "change"]) this.fields.addEventListener(event, ({ target }) => this.say(HEAD.includes(target.name) ? !this.asks : this.sure));
    this.say(this.sure);
  }

  fold(folded) {
    this.fields.classList.toggle("folded", folded);
    this.change.setAttribute("aria-expanded", String(!folded));
  }

  say(sure) {
    this.sure = sure;
    if (sure) field("end-asks").textContent = this.unknown;
    field("end-says").textContent = headWords();
    this.yes.hidden = !this.asks || sure;
    this.part.classList.toggle("sure", sure);
    this.part.classList.remove("wanted");
    if (sure) this.fold(true);
  }

  // an arrow was tapped before it was said
  want() {
    this.part.classList.add("wanted");
    if (!this.yes.checkVisibility()) return;
    this.yes.scrollIntoView({ block: "nearest" });
    field("end-asks").textContent = "Say first where these are shot: is it so?";
  }
}
