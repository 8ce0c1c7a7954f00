/* What the element asks of the server: JSON over HTTP, as /openapi.json describes it. */

/* An answer that isn't what was asked for: a problem detail (RFC 9457), or what is left of one. */
export class Refusal extends Error {
  constructor(status, problem) {
    super(problem.title ?? "");
    this.status = status;
    this.problem = problem;
  }
}

const spoken = new Map();

export class Service {
  #api;
  #language;
  #headers;

  constructor(api, language, headers) {
    this.#api = api;
    this.#language = language;
    this.#headers = headers;
  }

  /* The words of the dialog, asked for once by all elements of a page that speak the same language. */
  words() {
    const place = `${this.#language} ${this.#api}`;
    if (!spoken.has(place)) {
      const asked = this.#read("GET", "words");
      spoken.set(place, asked);
      asked.catch(() => spoken.delete(place));
    }
    return spoken.get(place);
  }

  plan(selection) {
    return selection.isOne
      ? this.#read("GET", selection.path("/deletion"))
      : this.#read("POST", selection.several(), {body: selection.content({})});
  }

  /* Carries out what was agreed to. What comes back is an outcome, the receipt of a signed approval, or a bulk run. */
  async carryOut(selection, agreed) {
    const headers = {"Prefer": "return=representation"};
    if (selection.isOne && !agreed.approval) {
      headers["Vacancy-Fingerprint"] = agreed.fingerprint;
      this.#add(headers, "Vacancy-Answer", agreed.answer);
      this.#add(headers, "Vacancy-Reason", agreed.reason);
      return this.#done(await this.#send("DELETE", selection.path(""), {headers}));
    }
    const further = agreed.approval
      ? {approval: agreed.approval, answer: agreed.answer, reason: agreed.reason}
      : {fingerprint: agreed.fingerprint, answer: agreed.answer, reason: agreed.reason};
    return this.#done(await this.#send("POST", selection.several(), {headers, body: selection.content(further)}));
  }

  #add(headers, name, text) {
    if (text) {
      headers[name] = encodeURIComponent(text);
    }
  }

  async #done(response) {
    return {isRun: response.status === 202, told: response.status === 204 ? {counts: {}} : await response.json()};
  }

  run(id) {
    return this.#read("GET", `runs/${id}`);
  }

  cancel(id) {
    return this.#read("POST", `runs/${id}/cancel`);
  }

  async undo(id) {
    const plan = await this.#read("GET", `runs/${id}/restoration`);
    return this.#read("POST", `runs/${id}/restoration`, {headers: {"Vacancy-Fingerprint": plan.fingerprint}});
  }

  agree(selection, approval) {
    return this.#read("POST", selection.several("/agreement"), {body: selection.content({approval})});
  }

  async #read(method, path, further) {
    return (await this.#send(method, path, further)).json();
  }

  async #send(method, path, {headers = {}, body = null} = {}) {
    const given = typeof this.#headers === "function" ? await this.#headers() : {};
    const all = {"Accept": "application/json", ...given, ...headers};
    if (this.#language) {
      all["Accept-Language"] = this.#language;
    }
    if (body !== null) {
      all["Content-Type"] = "application/json";
    }
    const response = await fetch(`${this.#api}/${path}`, {method, headers: all, body, credentials: "same-origin"});
    if (response.ok) {
      return response;
    }
    throw new Refusal(response.status, await response.json().catch(() => ({})));
  }
}

/* Which records, and in what manner: a single one by its key, or several by a list of keys or what they have in common. */
export class Selection {
  #table;
  #key;
  #members;
  #query;

  /* A list of keys is passed on as it is written, so that no number in it is rounded. */
  constructor({table, key, keys, where}, query) {
    this.#table = encodeURIComponent(table);
    this.#key = key;
    this.#query = query;
    this.#members = where === null
      ? `"keys": ${keys ?? JSON.stringify([key])}`
      : `"where": ${JSON.stringify(where)}`;
    this.isOne = keys === null && where === null;
  }

  /* Whatever a path doesn't carry stands in the query. */
  path(further) {
    const query = new URLSearchParams(this.#query);
    let segment = this.#key;
    if (!/^\w+$/.test(segment)) {
      segment = "-";
      query.append("key", this.#key);
    }
    return this.#with(`${this.#table}/${segment}${further}`, query);
  }

  several(further = "") {
    return this.#with(`${this.#table}/deletions${further}`, this.#query);
  }

  #with(path, query) {
    const text = query.toString();
    return text ? `${path}?${text}` : path;
  }

  content(further) {
    const given = Object.entries(further).filter(([, value]) => value);
    const members = given.map(([name, value]) => `${JSON.stringify(name)}: ${JSON.stringify(value)}`);
    return `{${[this.#members, ...members].join(", ")}}`;
  }
}
