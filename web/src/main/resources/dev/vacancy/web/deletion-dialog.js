/*
 * The dialog of the element. It stands at the end of the page, so that it outlives the row, menu or shadow root that it was
 * opened from; pages style it as vacancy-deletion-dialog.
 */

const STYLE = new CSSStyleSheet();
STYLE.replaceSync(`
  dialog { font: inherit; color: var(--vacancy-ink, CanvasText); background: var(--vacancy-ground, Canvas);
    border: 1px solid var(--vacancy-line, GrayText); border-radius: var(--vacancy-radius, .4rem);
    min-width: min(22rem, 92vw); max-width: min(var(--vacancy-width, 36rem), 92vw); max-height: 90vh; overflow-y: auto; padding: 1.2rem 1.4rem;
    box-sizing: border-box; }
  dialog::backdrop { background: var(--vacancy-backdrop, rgb(0 0 0 / .45)); }
  h2 { font-size: 1.15rem; margin: 0 0 .8rem; overflow-wrap: anywhere; }
  h3 { font-size: 1rem; margin: .8rem 0 .2rem; }
  p, li { overflow-wrap: anywhere; }
  ul { margin: 0; padding-left: 1.2rem; }
  .note { border-left: .25rem solid currentColor; padding-left: .7rem; }
  .choice { display: flex; flex-wrap: wrap; gap: .8rem; justify-content: flex-end; margin-top: 1.2rem; }
  button, input, textarea { font: inherit; padding: .4rem .9rem; }
  label { display: block; margin-top: .8rem; }
  input, textarea { display: block; width: 100%; box-sizing: border-box; margin-top: .2rem; }
  textarea { height: 5rem; overflow-wrap: anywhere; }
  [aria-invalid=true] { outline: 2px solid currentColor; outline-offset: 1px; }
  progress { width: 100%; height: 1.1rem; }
`);

/* Text is always text, whatever stands in it. */
export function element(name, text = "", part = "") {
  const made = document.createElement(name);
  made.textContent = text;
  if (part) {
    made.part = part;
  }
  return made;
}

export function list(lines) {
  const made = element("ul", "", "list");
  lines.forEach(line => made.append(element("li", line)));
  return made;
}

/* Says something that has happened while one was reading. */
export function note(text) {
  const made = element("p", text, "note");
  made.className = "note";
  made.setAttribute("role", "alert");
  return made;
}

/* A field with its label; gives both. */
export function field(text, kind = "input") {
  const label = element("label", text);
  const input = element(kind, "", "field");
  input.autocomplete = "off";
  label.append(input);
  return [label, input];
}

/* Text that somebody copies. */
export function passedOn(text, value) {
  const [label, input] = field(text, "textarea");
  input.value = value;
  input.readOnly = true;
  input.addEventListener("focus", () => input.select());
  return label;
}

class DeletionDialog extends HTMLElement {
  #dialog = element("dialog", "", "dialog");
  #form = element("form");
  #heading = element("h2", "", "question");
  #submit = null;

  constructor() {
    super();
    const root = this.attachShadow({mode: "open"});
    root.adoptedStyleSheets = [STYLE];
    this.#heading.id = "question";
    this.#dialog.setAttribute("aria-labelledby", "question");
    this.#dialog.append(this.#form);
    this.#form.noValidate = true;
    this.#form.addEventListener("submit", event => {
      event.preventDefault();
      this.#submit?.();
    });
    this.#dialog.addEventListener("close", () => this.onClosed?.());
    root.append(this.#dialog);
  }

  get isOpen() {
    return this.#dialog.open;
  }

  /*
   * Shows a heading, content and buttons, each with its text, what it does and the name of its part. The one that is "yes" is pressed by
   * Enter in a field as well. Gives the buttons.
   */
  show(language, title, content, buttons) {
    this.#dialog.lang = language;
    this.#heading.textContent = title;
    const choice = element("div", "", "choice");
    choice.className = "choice";
    this.#submit = null;
    const made = buttons.map(([text, action, part]) => {
      const button = element("button", text, part);
      button.type = part === "yes" ? "submit" : "button";
      if (part === "yes") {
        this.#submit = () => button.disabled || action();
      } else {
        button.addEventListener("click", action);
      }
      choice.append(button);
      return button;
    });
    this.#form.replaceChildren(this.#heading, ...content, choice);
    if (!this.isConnected) {
      document.body.append(this);
    }
    if (!this.isOpen) {
      // What has happened is told to whoever closed it meanwhile.
      this.#dialog.showModal();
    }
    return made;
  }

  close() {
    this.#dialog.close();
  }
}

customElements.define("vacancy-deletion-dialog", DeletionDialog);
