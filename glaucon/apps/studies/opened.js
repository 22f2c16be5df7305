// Opens on a framed page what a click opens, as the page itself tells it: what was opened before is undone first.
((top) => {
  const HTML = "http://www.w3.org/1999/xhtml";
  const SVG = "http://www.w3.org/2000/svg";
  const LED = ["src", "href", "poster"];
  const holder = document.querySelector("script[data-gl-opened]");
  let all = [];
  try {
    all = JSON.parse(holder?.textContent ?? "[]");
  } catch {
    // nothing can be opened then
  }
  const find = (root, number) => {
    const own = root.querySelector(`[data-gl-at="${number}"]`);
    if (own) return own;
    for (const one of root.querySelectorAll("*")) {
      const inside = one.shadowRoot && find(one.shadowRoot, number);
      if (inside) return inside;
    }
    return null;
  };
  // looked up once: what is taken out of the page is still known
  const known = new Map();
  const at = (number) => {
    if (!known.has(number)) known.set(number, find(document, Number(number)));
    return known.get(number);
  };
  const say = (one, name, value) => {
    if (/^on/i.test(name)) return;
    try {
      if (value === null) one.removeAttribute(name);
      else one.setAttribute(name, LED.includes(name) && /^\/[^/]/.test(value) ? top + value.slice(1) : value);
    } catch {
      // no name of an attribute
    }
  };
  const made = (node, space) => {
    if (typeof node === "string") return document.createTextNode(node);
    if (typeof node === "number") return at(node);
    const inside = node.foreign ? (node.tag === "svg" ? SVG : space) : HTML;
    const one = document.createElementNS(inside, node.tag);
    for (const [name, value] of Object.entries(node.attributes)) say(one, name, value);
    fill(one, node.children, inside);
    return one;
  };
  const fill = (one, children, space) => {
    for (const child of children) {
      const node = made(child, space);
      if (node && !node.contains(one)) one.append(node);
    }
  };
  let undo = [];
  let isOpen = "";
  const change = ({ at: number, attributes = {}, children }) => {
    const one = at(number);
    if (!one) return;
    for (const [name, value] of Object.entries(attributes)) {
      const before = one.getAttribute(name);
      undo.push(() => (before === null ? one.removeAttribute(name) : one.setAttribute(name, before)));
      say(one, name, value);
    }
    if (children) {
      const before = [...one.childNodes];
      undo.push(() => one.replaceChildren(...before));
      one.replaceChildren();
      fill(one, children, one.namespaceURI);
    }
  };
  return (label) => {
    const wanted = all.find((one) => one.label === label);
    if ((wanted?.label ?? "") === isOpen) return false;
    for (const back of undo.reverse()) back();
    undo = [];
    isOpen = wanted?.label ?? "";
    // all are looked up before any is moved
    wanted?.changes.forEach((one) => [one.at, ...(one.children ?? [])].filter(Number.isInteger).forEach(at));
    wanted?.changes.forEach(change);
    return true;
  };
})
