/*
 * An element that asks before it deletes:
 *
 *   <script type="module" src="/api/deletion.js"></script>
 *   <vacancy-deletion api="/api" table="hive" key="12"><a href="/hives/12/delete">Delete…</a></vacancy-deletion>
 *
 * Whatever is clicked inside opens a dialog with what would go, what stays and what forbids it; without scripts it is what it was.
 * The question is asked as hard as the rules say, in the language of the page (its attribute "lang") or else of the browser; all
 * words come from the server. Pages style its parts "dialog", "yes" and "no". The element tells what happened by the events
 * "deleted" and "restored", which bubble and carry the server's answer as their detail, and by "settled" when the dialog is closed
 * after that, so that the page can refresh its list.
 */

const STYLE = new CSSStyleSheet();
STYLE.replaceSync(`
  dialog { font: inherit; color: inherit; background: Canvas; border: 1px solid GrayText; border-radius: .4rem;
    max-width: min(36rem, 92vw); padding: 1.2rem 1.4rem; }
  dialog::backdrop { background: rgb(0 0 0 / .45); }
  h2 { font-size: 1.15rem; margin: 0 0 .8rem; overflow-wrap: anywhere; }
  h3 { font-size: 1rem; margin: .8rem 0 .2rem; }
  ul { margin: 0; padding-left: 1.2rem; }
  .note { border-left: .25rem solid currentColor; padding-left: .7rem; }
  .choice { display: flex; gap: .8rem; justify-content: flex-end; margin-top: 1.2rem; }
  button, input { font: inherit; padding: .4rem .9rem; }
  label { display: block; margin-top: .8rem; }
  input { display: block; width: 100%; box-sizing: border-box; margin-top: .2rem; }
`);

/* A number can be typed with its digits in groups or without. */
function plain(typed) {
  const text = typed.trim();
  return /^\d{1,3}([.,’\s]?\d{3})*$/.test(text) ? text.replaceAll(/\D/g, "") : text;
}

class Deletion extends HTMLElement {
  #dialog;
  #plan;
  #changed = false;
  #beginning = false;
  #language;
  #words;

  connectedCallback() {
    if (!this.shadowRoot) {
      const root = this.attachShadow({mode: "open"});
      root.adoptedStyleSheets = [STYLE];
      root.append(document.createElement("slot"));
      this.#dialog = document.createElement("dialog");
      this.#dialog.setAttribute("aria-labelledby", "question");
      this.#dialog.part = "dialog";
      root.append(this.#dialog);
      this.#dialog.addEventListener("close", () => this.#closed());
      this.addEventListener("click", event => this.#clicked(event));
    }
  }

  #closed() {
    if (this.#changed) {
      this.#changed = false;
      this.#emit("settled", null);
    }
  }

  #emit(name, detail) {
    this.dispatchEvent(new CustomEvent(name, {detail, bubbles: true, composed: true}));
  }

  #clicked(event) {
    const inside = event.composedPath().includes(this.#dialog);
    const another = event.ctrlKey || event.metaKey || event.shiftKey || event.button !== 0;
    if (!inside && !another && this.#words !== null) {
      event.preventDefault();
      this.#begin(event.target);
    }
  }

  /* Who has no words for a dialog leaves the click to the page, as without scripts. */
  async #begin(clicked) {
    if (this.#beginning) {
      return;
    }
    this.#beginning = true;
    this.#words ??= await this.#spoken().catch(() => null);
    this.#beginning = false;
    if (this.#words === null) {
      clicked.click();
    } else {
      await this.#ask();
    }
  }

  async #spoken() {
    const response = await this.#fetch("GET", `${this.getAttribute("api")}/words`);
    this.#language = response.headers.get("Content-Language") ?? "en";
    return response.ok ? response.json() : null;
  }

  /* Shows what would go, and asks. */
  async #ask(note = "") {
    if (!this.#dialog.open) {
      this.#show(this.#words.looking, [], [[this.#words.close, () => this.#dialog.close()]]);
    }
    const response = await this.#send("GET", this.#address("deletion"));
    if (!response) {
      return;
    }
    this.#plan = await response.json();
    if (!this.#dialog.open) {
      return;
    }
    if (this.#plan.question === null) {
      this.#forbidden();
    } else if (!this.#plan.due && note === "") {
      await this.#delete();
    } else {
      this.#question(note);
    }
  }

  #question(note) {
    const words = this.#words;
    const content = [...this.#noted(note), ...this.#counts(), ...this.#survivors()];
    this.#plan.warnings.forEach(warning => content.push(this.#element("p", warning)));
    const typed = this.#plan.typed;
    const input = this.#element("input");
    if (typed !== null) {
      const label = this.#element("label", words.type.replace("{0}", typed));
      input.autocomplete = "off";
      label.append(input);
      content.push(label);
    }
    const [no, yes] = this.#show(this.#plan.question, content, [
      [words.no, () => this.#dialog.close()],
      [words.yes, () => {
        if (typed === null || plain(input.value) === plain(typed)) {
          yes.disabled = true;
          this.#delete(input.value);
        } else {
          input.focus();
        }
      }]
    ]);
    no.focus();
  }

  #forbidden() {
    const content = this.#plan.obstacles.map(obstacle => this.#element("p", obstacle));
    const named = this.#plan.blockers.flatMap(blocker =>
      blocker.children.map(child => [blocker.table, child.key, child.label].filter(Boolean).join(" ")));
    if (named.length > 0) {
      content.push(this.#list(named));
    }
    this.#show(this.#words.blocked, content, [[this.#words.close, () => this.#dialog.close()]])[0].focus();
  }

  async #delete(answer = "") {
    const headers = {"Vacancy-Fingerprint": this.#plan.fingerprint, "Prefer": "return=representation"};
    if (this.#plan.typed !== null) {
      headers["Vacancy-Answer"] = encodeURIComponent(plain(this.#plan.typed) === plain(answer) ? this.#plan.typed : answer);
    }
    const response = await this.#send("DELETE", this.#address(), headers);
    if (!response) {
      return;
    }
    const outcome = await response.json();
    const count = Object.values(outcome.counts).reduce((sum, each) => sum + each, 0);
    const buttons = [[this.#words.close, () => this.#dialog.close()]];
    if (this.#plan.recorded) {
      buttons.push([this.#words.undo, () => this.#undo(outcome.run)]);
    }
    this.#show(this.#deleted(count), [], buttons)[0].focus();
    this.#changed = true;
    this.#emit("deleted", outcome);
  }

  #deleted(count) {
    const form = new Intl.PluralRules(this.#language).select(count);
    const words = this.#words[`deleted.${form}`] ?? this.#words["deleted.other"];
    return words.replace("{0}", count.toLocaleString(this.#language));
  }

  async #undo(run) {
    const address = `${this.getAttribute("api")}/runs/${run}/restoration`;
    const plan = await this.#send("GET", address);
    const fingerprint = plan && (await plan.json()).fingerprint;
    const response = plan && await this.#send("POST", address, {"Vacancy-Fingerprint": fingerprint});
    if (response) {
      this.#show(this.#words.restored, [], [[this.#words.close, () => this.#dialog.close()]])[0].focus();
      this.#emit("restored", await response.json());
    }
  }

  /* Gives the response if all is well; whatever else comes back is told. */
  async #send(method, address, headers = {}) {
    let response;
    try {
      response = await this.#fetch(method, address, headers);
    } catch (unreachable) {
      this.#tell(this.#words.failed);
      return null;
    }
    if (response.ok) {
      return response;
    }
    const problem = await response.json().catch(() => ({title: this.#words.failed, detail: ""}));
    if (response.status === 412 && method === "DELETE") {
      const differences = problem.differences ? ` (${problem.differences.join(", ")})` : "";
      await this.#ask(problem.title + differences);
    } else {
      this.#tell(problem.title, problem.detail);
    }
    return null;
  }

  #fetch(method, address, headers = {}) {
    const language = this.closest("[lang]")?.lang;
    const all = language ? {"Accept-Language": language, ...headers} : headers;
    return fetch(address, {method, headers: all, credentials: "same-origin"});
  }

  /* What exactly is wrong is told by the server in English. */
  #tell(message, exactly = "") {
    const told = this.#element("p", exactly);
    told.lang = "en";
    this.#show(message, exactly ? [told] : [], [[this.#words.close, () => this.#dialog.close()]])[0].focus();
  }

  #show(title, content, buttons) {
    const heading = this.#element("h2", title);
    heading.id = "question";
    const choice = this.#element("div");
    choice.className = "choice";
    const made = buttons.map(([text, action]) => {
      const button = this.#element("button", text);
      button.type = "button";
      button.part = text === this.#words.yes ? "yes" : "no";
      button.addEventListener("click", action);
      choice.append(button);
      return button;
    });
    this.#dialog.replaceChildren(heading, ...content, choice);
    if (!this.#dialog.open) {
      // What has happened is told to whoever closed it meanwhile.
      this.#dialog.showModal();
    }
    return made;
  }

  #counts() {
    const marked = new Set(this.#plan.marked);
    const drifting = new Set(this.#plan.drifting);
    const lines = Object.entries(this.#plan.counts).map(([table, count]) => {
      const number = count.toLocaleString(this.#language);
      const told = drifting.has(table) ? this.#words.about.replace("{0}", number) : number;
      return `${told} ${table}${marked.has(table) ? ` (${this.#words.marked})` : ""}`;
    });
    return [this.#element("h3", this.#words.goes), this.#list(lines)];
  }

  #survivors() {
    return this.#plan.survivors.length === 0
      ? []
      : [this.#element("h3", this.#words.stays), this.#list(this.#plan.survivors)];
  }

  #noted(note) {
    if (!note) {
      return [];
    }
    const told = this.#element("p", note);
    told.className = "note";
    told.setAttribute("role", "alert");
    return [told];
  }

  #list(lines) {
    const list = this.#element("ul");
    lines.forEach(line => list.append(this.#element("li", line)));
    return list;
  }

  /* Text is always text, whatever stands in it. */
  #element(name, text = "") {
    const element = document.createElement(name);
    element.textContent = text;
    return element;
  }

  #address(...further) {
    const own = [this.getAttribute("table"), this.getAttribute("key"), ...further].map(encodeURIComponent);
    return `${this.getAttribute("api")}/${own.join("/")}`;
  }
}

customElements.define("vacancy-deletion", Deletion);
