// The first time that a word of the field stands in what a page explains, it leads to the help.
const PLACES = ".why, .quiet, .hint, .look, .said";
const words = await fetch("/help/words.json").then((answer) => answer.json()).catch(() => ({}));
const names = Object.keys(words).sort((a, b) => b.length - a.length);
const pattern = new RegExp(`(?<![\\w-])(${names.join("|")})(?![\\w-])`, "i");

function linkIn(place, seen) {
  const texts = document.createTreeWalker(place, NodeFilter.SHOW_TEXT);
  const nodes = [];
  while (texts.nextNode()) if (!texts.currentNode.parentElement.closest("a, button, label, svg, .term")) nodes.push(texts.currentNode);
  for (const node of nodes) {
    const found = node.data.match(pattern);
    const told = found && words[found[0].toLowerCase()];
    if (!told || seen.has(told[0])) continue;
    seen.add(told[0]);
    const rest = node.splitText(found.index);
    rest.splitText(found[0].length);
    const link = document.createElement("a");
    Object.assign(link, { className: "term", href: `/help#${told[0]}`, title: told[1] });
    rest.replaceWith(link);
    link.append(rest);
  }
}
const seen = new Set();
if (names.length && !document.querySelector(".help-page")) {
  for (const place of document.querySelectorAll(`main :is(${PLACES})`)) if (place.checkVisibility()) linkIn(place, seen);
}
