// Finds the sections that hold every word that is typed; those whose headings hold them come first.
"use strict";
(() => {
  const most = 30;
  const form = document.querySelector("form");
  const input = form.querySelector("input");
  const found = document.getElementById("found");
  const pages = document.getElementById("pages");
  const base = document.body.dataset.base;

  const count = (text, word) => text.split(word).length - 1;

  function weight(section, words) {
    const title = `${section.page} ${section.title}`.toLowerCase();
    const text = section.text.toLowerCase();
    let weight = text.includes(words.join(" ")) ? 20 : 0;
    for (const word of words) {
      const here = 20 * count(title, word) + Math.min(10, count(text, word));
      if (here === 0) return 0;
      weight += here;
    }
    return weight;
  }

  // The words of the text about the first that is found, as nodes: what is typed never becomes markup.
  function excerpt(text, words) {
    const lower = text.toLowerCase();
    const together = lower.indexOf(words.join(" "));
    const places = words.map(w => lower.indexOf(w)).filter(p => p >= 0);
    const first = together >= 0 ? together : places.length === 0 ? 0 : Math.min(...places);
    const from = first <= 40 ? 0 : text.indexOf(" ", first - 40) + 1 || first;
    const small = document.createElement("small");
    let at = from;
    const to = Math.min(text.length, from + 140);
    if (from > 0) small.append("… ");
    while (at < to) {
      const word = words.find(w => lower.startsWith(w, at));
      if (word === undefined) {
        small.append(text[at++]);
      } else {
        const mark = document.createElement("mark");
        mark.append(text.slice(at, at + word.length));
        small.append(mark);
        at += word.length;
      }
    }
    if (to < text.length) small.append(" …");
    small.normalize();
    return small;
  }

  function search() {
    const words = input.value.toLowerCase().split(/\s+/).filter(w => w !== "");
    found.hidden = words.length === 0;
    pages.hidden = words.length !== 0;
    const hits = sections.map(s => ({ section: s, weight: weight(s, words) }))
      .filter(h => h.weight > 0)
      .sort((a, b) => b.weight - a.weight);
    const said = document.createElement("p");
    said.append(hits.length === 0 ? "Nothing has all these words."
      : hits.length > most ? `The first ${most} of ${hits.length} places` : `${hits.length} ${hits.length === 1 ? "place" : "places"}`);
    found.replaceChildren(said);
    for (const { section } of hits.slice(0, most)) {
      const link = document.createElement("a");
      link.href = base + section.at;
      link.append(section.title === section.page ? section.page : `${section.page}: ${section.title}`);
      link.append(excerpt(section.text, words));
      found.append(link);
    }
  }

  form.hidden = false;
  input.addEventListener("input", search);
  form.addEventListener("submit", event => {
    event.preventDefault();
    const first = found.querySelector("a");
    if (first !== null) first.click();
  });
  document.addEventListener("keydown", event => {
    if (event.key === "/" && document.activeElement !== input) {
      event.preventDefault();
      input.focus();
    } else if (event.key === "Escape" && document.activeElement === input) {
      input.value = "";
      search();
      input.blur();
    }
  });
  if (input.value !== "") search();
})();
