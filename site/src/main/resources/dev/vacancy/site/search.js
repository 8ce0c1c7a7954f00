"use strict";
// Finds sections of all pages, in the browser and without a server: the index is made when somebody first looks for something.
(() => {
  const base = document.documentElement.dataset.base;
  const field = document.getElementById("search");
  const found = document.getElementById("found");
  const MOST = 12;
  let index = null;

  function made() {
    return lunr(function () {
      this.ref("number");
      this.field("title", { boost: 8 });
      this.field("of", { boost: 4 });
      this.field("text");
      SECTIONS.forEach((section, number) => this.add({ number, ...section }));
    });
  }

  const stem = (word) => lunr.stemmer(new lunr.Token(word)).toString();

  // Sections with all words, the last of them as far as it is typed; if there are none, those with some.
  function look(words) {
    const meant = words.filter((word) => lunr.stopWordFilter(word) !== undefined);
    const last = words[words.length - 1];
    const asked = (presence) => index.query((query) => {
      meant.filter((word) => word !== last).forEach((word) => query.term(stem(word), { presence, boost: 10 }));
      query.term(stem(last), { boost: 10 });
      query.term(last, { wildcard: lunr.Query.wildcard.TRAILING });
    });
    const strict = asked(lunr.Query.presence.REQUIRED);
    return strict.length > 0 ? strict : asked(lunr.Query.presence.OPTIONAL);
  }

  function excerpt(text, words) {
    const at = Math.max(0, Math.min(...words.map((word) => {
      const place = text.toLowerCase().indexOf(word);
      return place < 0 ? text.length : place;
    })));
    const start = at >= text.length ? 0 : text.lastIndexOf(" ", Math.max(0, at - 40)) + 1;
    const end = start + 160 < text.length ? text.lastIndexOf(" ", start + 160) : text.length;
    return (start > 0 ? "… " : "") + text.slice(start, end) + (end < text.length ? " …" : "");
  }

  function show() {
    const words = field.value.toLowerCase().split(/[^\p{L}\p{N}_-]+/u).filter((word) => word !== "");
    found.replaceChildren();
    found.hidden = words.length === 0;
    if (words.length === 0) {
      return;
    }
    index ??= made();
    const hits = look(words).slice(0, MOST);
    if (hits.length === 0) {
      found.append(Object.assign(document.createElement("p"), { textContent: `Nothing is found for “${field.value}”.` }));
      return;
    }
    const list = document.createElement("ul");
    for (const hit of hits) {
      const section = SECTIONS[hit.ref];
      const link = Object.assign(document.createElement("a"), { href: base + section.page });
      link.textContent = section.title === section.of ? section.title : `${section.of}: ${section.title}`;
      const text = Object.assign(document.createElement("p"), { textContent: excerpt(section.text, words) });
      const item = document.createElement("li");
      item.append(link, text);
      list.append(item);
    }
    found.append(list);
  }

  field.addEventListener("input", show);
  document.addEventListener("keydown", (event) => {
    if (event.key === "/" && !(event.target instanceof HTMLInputElement)) {
      event.preventDefault();
      field.focus();
    } else if (event.key === "Escape" && !found.hidden) {
      field.value = "";
      show();
      field.focus();
    }
  });
  found.addEventListener("click", (event) => {
    if (event.target instanceof HTMLAnchorElement) {
      found.hidden = true;
    }
  });
})();
