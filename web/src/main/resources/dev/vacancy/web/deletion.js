/*
 * An element that asks before it deletes:
 *
 *   <script type="module" src="/api/deletion.js"></script>
 *   <vacancy-deletion api="/api" table="hive" key="12"><a href="/hives/12/delete">Delete…</a></vacancy-deletion>
 *
 * Whatever is clicked inside opens a dialog with what would go, what stays and what forbids it; without scripts it is what it was.
 * The question is asked as hard as the rules say, in the language of the page (the nearest "lang" around it) or else of the browser;
 * all words come from the server.
 *
 * Attributes
 *   api           where the servlet is
 *   table, key    the record, by the value of its key
 *   keys          several records, or one whose key has several columns: a JSON array such as [12, 13] or [["x", 1]]
 *   where         the records that meet a criteria
 *   hard          the rows go, where the rule would only mark them
 *   reassign      who takes over children: "inspection.keeper_id=7", several with blanks between
 *   skip-blocked  leaves out what others forbid to delete
 *   expect        how many records it must be
 *   at-most       how many records it may be
 *   reason        "optional" asks why, "required" doesn't go on without
 *
 * Properties and methods
 *   headers       a function that gives header fields for each request, such as a token; it may be async. That of the class,
 *                 customElements.get("vacancy-deletion").headers, holds for all elements without one of their own
 *   approval      a signed approval to which a colleague has agreed
 *   open()        asks; resolves, when the dialog is closed, with what was deleted, or null
 *   agree(text)   shows the same deletion to a colleague, who agrees to the signed approval; resolves with the approval of both, or null
 *
 * Events, which bubble and leave shadow roots; if the element has gone, they come from what was around it
 *   deleted       what the server has answered: an outcome, the receipt of a signed approval, or the bulk run at its end
 *   begun, progressed   the bulk run
 *   agreement-needed    {approval}: what a colleague has to agree to
 *   restored      what came back
 *   refused       the plan, or the problem (RFC 9457)
 *   cancelled     nobody wanted it
 *   settled       the dialog is closed after something has happened, so that the page can refresh its list
 *
 * The dialog is an element of its own at the end of the page. Its parts for CSS: vacancy-deletion-dialog::part(dialog), question, note, list,
 * field, choice, yes, no, progress. Its custom properties, on it or on :root: --vacancy-ground, --vacancy-ink, --vacancy-line,
 * --vacancy-radius, --vacancy-width, --vacancy-backdrop; without them it has the colours of the system.
 */

import {element, field, list, note, passedOn} from "./deletion-dialog.js";
import {Refusal, Selection, Service} from "./deletion-service.js";

const FIRST_PAUSE = 300;
const LONGEST_PAUSE = 5000;
const LONGEST_IDLE = 15 * 60 * 1000;
const MOST_SILENCES = 5;

/* A number can be typed with its digits in groups or without. */
function plain(typed) {
  const text = typed.trim();
  return /^\d{1,3}([.,’\s]?\d{3})*$/.test(text) ? text.replaceAll(/\D/g, "") : text;
}

/* Words with something in them. */
function filled(words, ...values) {
  return words.replaceAll(/\{(\d)\}/g, (place, number) => values[number] ?? place);
}

/* What is around an element, out of all shadow roots, the nearest first. */
function around(start) {
  const found = [];
  for (let each = start; each; each = each.assignedSlot ?? each.parentNode ?? each.host) {
    found.push(each);
  }
  return found;
}

/* From the first request to the end: one dialog, one deletion. */
class Conversation {
  #element;
  #around;
  #service;
  #selection;
  #words;
  #dialog = document.createElement("vacancy-deletion-dialog");
  #plan = null;
  #approval;
  #given = {};
  #asked = false;
  #busy = false;
  #told = null;
  #refused = false;
  #end;

  constructor(asking, service, selection, words) {
    this.#element = asking;
    this.#around = around(asking);
    this.#service = service;
    this.#selection = selection;
    this.#words = words;
    this.#approval = asking.approval;
    this.#dialog.onClosed = () => this.#closed();
  }

  /* Resolves when the dialog is closed for the last time. */
  begin(first) {
    return new Promise(resolve => {
      this.#end = resolve;
      first(this);
    });
  }

  #closed() {
    if (this.#busy) {
      return;
    }
    this.#dialog.remove();
    if (this.#told) {
      this.#emit("settled", this.#told);
    } else if (!this.#refused) {
      this.#emit("cancelled", null);
    }
    this.#end(this.#told);
  }

  #emit(name, detail) {
    const from = [this.#element, ...this.#around].find(each => each.isConnected) ?? document;
    from.dispatchEvent(new CustomEvent(name, {detail, bubbles: true, composed: true}));
  }

  #show(title, content, buttons) {
    return this.#dialog.show(this.#words.language, title, content, buttons);
  }

  #closing(text = this.#words.close) {
    return [text, () => this.#dialog.close(), "no"];
  }

  /* While it is done, closing the dialog doesn't end it: what comes of it is told. */
  async #doing(action) {
    this.#busy = true;
    try {
      return await action();
    } finally {
      this.#busy = false;
    }
  }

  /* Shows what would go, and asks. */
  async ask(changed = "") {
    if (!this.#dialog.isOpen) {
      this.#show(this.#words.looking, [], [this.#closing()]);
    }
    try {
      this.#plan = await this.#service.plan(this.#selection);
    } catch (failure) {
      this.#failed(failure);
      return;
    }
    if (!this.#dialog.isOpen) {
      return;
    }
    if (this.#plan.question === null) {
      this.#forbidden();
    } else if (this.#isNothingToAsk()) {
      await this.#delete();
    } else {
      this.#question(changed);
    }
  }

  /* What was refused once is asked about from then on, so that nothing goes round in a circle. */
  #isNothingToAsk() {
    return !this.#plan.due && !this.#asked && !this.#plan.colleague && !this.#element.getAttribute("reason");
  }

  #question(changed) {
    const words = this.#words;
    const content = changed ? [note(changed)] : [];
    content.push(...this.#consequences());
    const checks = [];
    const {typed} = this.#plan;
    if (typed !== null) {
      const [label, input] = field(filled(words.type, typed));
      content.push(label);
      checks.push([input, () => plain(input.value) === plain(typed)]);
    }
    const asked = this.#element.getAttribute("reason");
    const [why, reason] = field(asked === "required" ? words.reason : words["reason.optional"]);
    if (asked) {
      reason.maxLength = 1000;
      reason.value = this.#given.reason ?? "";
      content.push(why);
      checks.push([reason, () => asked !== "required" || reason.value.trim() !== ""]);
    }
    const [no, yes] = this.#show(this.#plan.question, content, [
      this.#closing(words.no),
      [words.yes, () => {
        const wrong = checks.filter(([input, isRight]) => {
          input.setAttribute("aria-invalid", String(!isRight()));
          return !isRight();
        });
        if (wrong.length > 0) {
          wrong[0][0].focus();
          return;
        }
        yes.disabled = true;
        this.#given = {answer: typed ?? "", reason: reason.value.trim()};
        if (this.#plan.colleague && !this.#approval) {
          this.#colleague();
        } else {
          this.#delete();
        }
      }, "yes"]
    ]);
    no.focus();
  }

  #consequences() {
    const content = [element("h3", this.#words.goes), list(this.#counts())];
    if (this.#plan.survivors.length > 0) {
      content.push(element("h3", this.#words.stays), list(this.#plan.survivors));
    }
    this.#plan.warnings.forEach(warning => content.push(element("p", warning)));
    return content;
  }

  #counts() {
    const {marked, ignoredChanges, counts} = this.#plan;
    return Object.entries(counts).map(([table, count]) => {
      const number = this.#number(count);
      const told = ignoredChanges.includes(table) ? filled(this.#words.about, number) : number;
      return `${told} ${table}${marked.includes(table) ? ` (${this.#words.marked})` : ""}`;
    });
  }

  #number(count) {
    return count.toLocaleString(this.#words.language);
  }

  #forbidden() {
    const content = this.#plan.obstacles.map(obstacle => element("p", obstacle));
    const named = this.#plan.blockers.flatMap(blocker =>
      blocker.children.map(child => [blocker.table, child.key, child.label].filter(Boolean).join(" ")));
    if (named.length > 0) {
      content.push(list(named));
    }
    this.#refused = true;
    this.#show(this.#words.blocked, content, [this.#closing()])[0].focus();
    this.#emit("refused", this.#plan);
  }

  async #delete() {
    const agreed = {...this.#given, fingerprint: this.#plan.fingerprint, approval: this.#approval};
    try {
      const {isRun, told} = await this.#doing(() => this.#service.carryOut(this.#selection, agreed));
      if (isRun) {
        this.#told = told;
        this.#emit("begun", told);
        await this.#watch(told);
      } else {
        this.#deleted(told, this.#plan.recorded);
      }
    } catch (failure) {
      if (failure.status === 412) {
        // A signed approval is of the plan that it came with; and what was refused once isn't sent again unasked.
        this.#approval = null;
        this.#asked = true;
        const {title, differences} = failure.problem;
        await this.ask(differences ? `${title} (${differences.join(", ")})` : title ?? this.#words.failed);
      } else {
        this.#failed(failure);
      }
    }
  }

  #deleted(told, isRecorded) {
    this.#told = told;
    const isRun = typeof told.deleted === "number";
    const count = isRun ? told.deleted : Object.values(told.counts).reduce((sum, each) => sum + each, 0);
    const form = new Intl.PluralRules(this.#words.language).select(count);
    const words = this.#words[`deleted.${form}`] ?? this.#words["deleted.other"];
    const content = told.failed > 0 ? [element("p", filled(this.#words.failures, this.#number(told.failed)))] : [];
    const buttons = [this.#closing()];
    if (isRecorded && told.run) {
      buttons.push([this.#words.undo, () => this.#undo(told.run), "undo"]);
    }
    this.#show(filled(words, this.#number(count)), content, buttons)[0].focus();
    this.#emit("deleted", told);
  }

  async #undo(run) {
    try {
      const restored = await this.#doing(() => this.#service.undo(run));
      this.#show(this.#words.restored, [], [this.#closing()])[0].focus();
      this.#emit("restored", restored);
    } catch (failure) {
      this.#failed(failure);
    }
  }

  /* Tells how far a bulk run is, until it ends or nobody works on it. Whoever closes the dialog leaves it to itself. */
  async #watch(begun) {
    const words = this.#words;
    const bar = element("progress", "", "progress");
    bar.setAttribute("aria-label", words.running);
    const told = element("p");
    told.setAttribute("role", "status");
    this.#show(words.running, [bar, told], [
      this.#closing(),
      [words.stop, () => this.#service.cancel(begun.run).catch(failure => this.#failed(failure)), "undo"]
    ])[0].focus();
    let run = begun;
    let silences = 0;
    let pause = FIRST_PAUSE;
    while (run.state === "running" && silences < MOST_SILENCES && this.#dialog.isOpen) {
      bar.max = Math.max(1, run.records);
      bar.value = run.done + run.skipped + run.failed;
      told.textContent = filled(words.progress, this.#number(bar.value), this.#number(run.records));
      if (Date.now() - Date.parse(run.workedAt) > LONGEST_IDLE) {
        told.textContent = words.idle;
        return;
      }
      await new Promise(resume => setTimeout(resume, pause));
      pause = Math.min(LONGEST_PAUSE, pause * 1.5);
      try {
        run = await this.#service.run(begun.run);
        silences = 0;
        this.#told = run;
        this.#emit("progressed", run);
      } catch (failure) {
        silences++;
      }
    }
    if (!this.#dialog.isOpen) {
      return;
    }
    if (run.state === "done") {
      this.#deleted(run, false);
    } else if (run.state === "running") {
      told.textContent = words.failed;
    } else {
      this.#show(words.stopped, [told], [this.#closing()])[0].focus();
    }
  }

  /* A colleague has to agree: what they need is shown, and what they give back taken. */
  #colleague() {
    const words = this.#words;
    const approval = this.#plan.approval;
    if (approval === null) {
      this.#refused = true;
      this.#show(words.colleague, [element("p", words.unsigned)], [this.#closing()])[0].focus();
      this.#emit("refused", this.#plan);
      return;
    }
    const given = passedOn(words.give, approval);
    const [taken, back] = field(words.paste, "textarea");
    const [no] = this.#show(words.colleague, [given, taken], [
      this.#closing(words.no),
      [words.yes, () => {
        if (back.value.trim() === "") {
          back.focus();
        } else {
          this.#approval = back.value.trim();
          this.#delete();
        }
      }, "yes"]
    ]);
    no.focus();
    this.#emit("agreement-needed", {approval});
  }

  /* The same deletion, shown to the colleague. */
  async agree(approval) {
    const words = this.#words;
    this.#show(words.looking, [], [this.#closing()]);
    try {
      this.#plan = await this.#service.plan(this.#selection);
    } catch (failure) {
      this.#failed(failure);
      return;
    }
    if (this.#plan.question === null) {
      this.#forbidden();
      return;
    }
    const [label, input] = field(words["agree.paste"], "textarea");
    input.value = approval ?? "";
    const [no] = this.#show(this.#plan.question, [...this.#consequences(), label], [
      this.#closing(words.no),
      [words.agree, async () => {
        try {
          const both = await this.#doing(() => this.#service.agree(this.#selection, input.value.trim()));
          this.#told = both.approval;
          const given = passedOn(words.agreed, both.approval);
          this.#show(words.colleague, [given], [this.#closing()])[0].focus();
        } catch (failure) {
          this.#failed(failure);
        }
      }, "yes"]
    ]);
    no.focus();
  }

  /* What exactly is wrong is told by the server in English. */
  #failed(failure) {
    const problem = failure instanceof Refusal ? failure.problem : {};
    const exactly = problem.detail ? [element("p", problem.detail)] : [];
    exactly.forEach(told => {
      told.lang = "en";
    });
    this.#refused = true;
    this.#show(problem.title ?? this.#words.failed, exactly, [this.#closing()])[0].focus();
    this.#emit("refused", problem);
  }
}

class Deletion extends HTMLElement {
  /* For all elements that have none of their own. */
  static headers = null;

  headers = null;
  approval = null;
  #open = false;
  #passing = false;

  constructor() {
    super();
    this.addEventListener("click", event => this.#clicked(event));
  }

  #clicked(event) {
    const another = event.ctrlKey || event.metaKey || event.shiftKey || event.altKey || event.button !== 0;
    if (event.defaultPrevented || another || this.#passing) {
      return;
    }
    event.preventDefault();
    // The innermost that can be clicked by a program; an icon can't.
    const clicked = event.composedPath().find(each => each instanceof HTMLElement);
    this.open().catch(() => this.#pass(clicked));
  }

  /* Who has no words for a dialog leaves the click to the page, as without scripts. */
  #pass(clicked) {
    this.#passing = true;
    clicked.click();
    this.#passing = false;
  }

  open() {
    return this.#converse(conversation => conversation.ask());
  }

  agree(approval) {
    return this.#converse(conversation => conversation.agree(approval));
  }

  async #converse(first) {
    if (this.#open) {
      return null;
    }
    this.#open = true;
    try {
      const service = this.#service();
      const words = await service.words();
      return await new Conversation(this, service, this.#selection(), words).begin(first);
    } finally {
      this.#open = false;
    }
  }

  #service() {
    const language = around(this).find(each => each.lang)?.lang ?? "";
    return new Service(this.getAttribute("api") ?? "", language, this.headers ?? this.constructor.headers);
  }

  #selection() {
    const query = new URLSearchParams();
    if (this.hasAttribute("hard")) {
      query.append("hard", "true");
    }
    if (this.hasAttribute("skip-blocked")) {
      query.append("skip-blocked", "true");
    }
    for (const name of ["expect", "at-most"]) {
      if (this.hasAttribute(name)) {
        query.append(name, this.getAttribute(name));
      }
    }
    (this.getAttribute("reassign") ?? "").split(/\s+/).filter(Boolean).forEach(each => query.append("reassign", each));
    const [table, key, keys, where] = ["table", "key", "keys", "where"].map(name => this.getAttribute(name));
    return new Selection({table, key, keys, where}, query);
  }
}

customElements.define("vacancy-deletion", Deletion);
