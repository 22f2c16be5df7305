// Measures one page as it is laid out now: where the lines of its texts are, and which elements lie below and above
// points along each line. Numbers and paths only. What is asked of the page is asked through the browser's own
// getters, taken from their prototypes: a form field named "children" answers to no one here.
(limits) => {
  const getter = (proto, name) => {
    const { get } = Object.getOwnPropertyDescriptor(proto, name);
    return (of) => get.call(of);
  };
  const method = (proto, name) => {
    const own = proto[name];
    return (of, ...given) => own.apply(of, given);
  };
  const parentOf = getter(Node.prototype, "parentNode");
  const childrenOf = getter(Node.prototype, "childNodes");
  const typeOf = getter(Node.prototype, "nodeType");
  const nameOf = getter(Element.prototype, "localName");
  const rectOf = method(Element.prototype, "getBoundingClientRect");
  const rectsOf = method(Element.prototype, "getClientRects");
  const attributeOf = method(Element.prototype, "getAttribute");
  const sheetsOf = Object.getOwnPropertyDescriptor(Document.prototype, "adoptedStyleSheets");
  const under = method(Document.prototype, "elementsFromPoint");
  const scrollerOf = getter(Document.prototype, "scrollingElement");
  const all = [...method(Document.prototype, "querySelectorAll")(document, "*")].slice(0, limits.elements);
  const started = performance.now();
  const isLate = () => performance.now() - started > limits.milliseconds;
  const round = (value) => Math.round(value * 100) / 100;

  const place = new Map(); // element → its place among its element siblings
  const counts = new Map();
  for (const one of all) {
    const parent = parentOf(one);
    counts.set(parent, (counts.get(parent) ?? 0) + 1);
    place.set(one, counts.get(parent));
  }
  const numbers = new Map(); // element → its number in `paths`
  const paths = [];
  const written = new Map();
  const pathOf = (one) => {
    const chain = [];
    for (let at = one; at && typeOf(at) === 1 && !written.has(at); at = parentOf(at)) chain.push(at);
    for (const at of chain.reverse()) {
      const parent = parentOf(at);
      const isRoot = !parent || typeOf(parent) !== 1;
      written.set(at, isRoot ? nameOf(at) : `${written.get(parent)}>${nameOf(at)}:nth-child(${place.get(at) ?? 0})`);
    }
    return written.get(one);
  };
  const numberOf = (one) => {
    if (!numbers.has(one)) {
      numbers.set(one, paths.length);
      paths.push(pathOf(one));
    }
    return numbers.get(one);
  };

  // the view stands at the top; boxes are of the page
  scrollTo({ left: 0, top: 0, behavior: "instant" });
  const scroller = scrollerOf(document);
  const width = scroller ? scroller.scrollWidth : innerWidth;
  const height = scroller ? scroller.scrollHeight : innerHeight;

  const CONTROLS = new Set(["input", "textarea", "select"]);
  const WITHOUT_WORDS = new Set(["script", "style", "template", "noscript", "head", "title", "iframe", "video", "audio", "canvas", "object"]);
  const UNREAD = new Set(["hidden", "range", "color", "checkbox", "radio", "image", "file"]);
  const inner = (box, x, y, w, h) => [box.left + box.width * x, box.top + box.height * y, box.width * w, box.height * h];
  const ownLines = (one) => {
    const name = nameOf(one);
    if (name === "input" && UNREAD.has(attributeOf(one, "type")?.toLowerCase())) return [];
    if (name === "textarea") return [inner(rectOf(one), 0.2, 0.3, 0.6, 0.2)];
    if (name === "input") return [inner(rectOf(one), 0.2, 0.3, 0.6, 0.4)];
    if (name === "select") return [inner(rectOf(one), 0.1, 0.3, 0.4, 0.4)];
    const lines = [];
    for (const node of childrenOf(one)) {
      if (typeOf(node) !== 3 || !/\S/.test(node.data)) continue;
      const range = document.createRange();
      range.selectNodeContents(node);
      for (const rect of range.getClientRects()) {
        if (lines.length >= limits.linesOfRun) return lines;
        if (rect.width > 0 && rect.height > 0) lines.push([rect.left, rect.top, rect.width, rect.height]);
      }
    }
    return lines;
  };
  const saysSomething = (content) => content && content !== "none" && content !== "normal" && content !== '""';
  const runs = [];
  let lineCount = 0;
  const note = (one, suffix, lines) => {
    const kept = lines.filter(([x, y, w, h]) => x + w > 0 && y + h > 0 && x < width && y < height);
    if (!kept.length || lineCount > limits.lines) return;
    lineCount += kept.length;
    runs.push({ one, suffix, lines: kept });
  };
  for (const one of all) {
    if (isLate()) break;
    if (WITHOUT_WORDS.has(nameOf(one))) continue;
    note(one, 0, ownLines(one));
    if (CONTROLS.has(nameOf(one))) continue;
    for (const [suffix, which] of [[1, "::before"], [2, "::after"]]) {
      const style = getComputedStyle(one, which);
      if (!saysSomething(style.content) || style.display === "none" || /absolute|fixed/.test(style.position)) continue;
      // a pseudo-element tells no box: it stands in that of its element
      note(one, suffix, [...rectsOf(one)].slice(0, 3).filter((r) => r.width > 0 && r.height > 0).map((r) => [r.left, r.top, r.width, r.height]));
    }
  }

  // what takes no pointer is met all the same; pseudo-elements are not, they would answer as their element
  const forced = new CSSStyleSheet();
  forced.replaceSync(
    "* { pointer-events: auto !important } *::before, *::after { pointer-events: none !important }",
  );
  const before = sheetsOf.get.call(document);
  sheetsOf.set.call(document, [...before, forced]);
  const lists = [];
  const known = new Map();
  const listOf = (x, y, one) => {
    const found = under(document, x, y);
    const at = found.indexOf(one);
    if (at < 0) return -1;
    const below = found.slice(at + 1, at + 1 + limits.deep);
    below.unshift(one);
    const above = found.slice(0, at).slice(-limits.deep);
    const key = `${below.map(numberOf).join()}|${above.map(numberOf).join()}`;
    if (!known.has(key)) {
      known.set(key, lists.length);
      lists.push([below.map(numberOf), above.map(numberOf)]);
    }
    return known.get(key);
  };
  let top = 0;
  const ordered = runs.flatMap((run) => run.lines.map((line) => ({ run, line }))).sort((a, b) => a.line[1] - b.line[1]);
  const spots = new Map(runs.map((run) => [run, []]));
  let points = 0;
  for (const { run, line } of ordered) {
    if (isLate() || points > limits.points) break;
    const [x, y, w, h] = line;
    if (y + h > top + innerHeight || x + w > innerWidth) {
      scrollTo({ left: Math.max(0, x + w - innerWidth), top: Math.max(0, y - innerHeight / 5), behavior: "instant" });
    }
    const left = scrollX;
    top = scrollY;
    const columns = Math.max(2, Math.min(8, Math.ceil(w / 60)));
    const step = (w * 0.96) / columns;
    const rows = h > 14 ? [0.2, 0.5, 0.8] : [0.3, 0.7];
    const seen = new Map(); // list → the stretch of the line it was met in
    for (let column = 0; column < columns; column++) {
      const start = x + w * 0.02 + column * step;
      for (const row of rows) {
        points++;
        const list = listOf(start + step / 2 - left, y + h * row - top, run.one);
        if (list < 0) continue;
        const stretch = seen.get(list);
        if (stretch) stretch[1] = start + step;
        else seen.set(list, [start, start + step]);
      }
    }
    for (const [list, [from, to]] of seen)
      spots.get(run).push([round(from), round(y + h * 0.15), round(to - from), round(h * 0.7), list]);
  }
  scrollTo({ left: 0, top: 0, behavior: "instant" });
  sheetsOf.set.call(document, before);

  const px = (value) => Math.max(0, parseFloat(value) || 0);
  const SIDES = ["Top", "Right", "Bottom", "Left"];
  const PICTURES = new Set(["img", "video", "canvas", "iframe", "object", "embed", "svg"]);
  const boxes = [];
  const pseudos = [];
  const isAnchor = (style) =>
    style.position !== "static" || style.transform !== "none" || style.filter !== "none" || /paint|layout|strict|content/.test(style.contain);
  const pseudoBox = (one, style) => {
    let around = one;
    if (style.position === "absolute") while (around && typeOf(around) === 1 && !isAnchor(getComputedStyle(around))) around = parentOf(around);
    else if (style.position === "fixed") around = null;
    else return null;
    const moved = style.transform === "none" ? [0, 0, 0, 0, 0, 0] : (style.transform.match(/-?[\d.e-]+/g) ?? []).map(Number);
    if (style.transform !== "none" && (moved.length !== 6 || moved[0] !== 1 || moved[1] || moved[2] || moved[3] !== 1)) return null;
    let [x, y] = [0, 0];
    if (around && typeOf(around) === 1) {
      const rect = rectOf(around);
      const own = getComputedStyle(around);
      [x, y] = [rect.left + px(own.borderLeftWidth), rect.top + px(own.borderTopWidth)];
    }
    const plus = (a, b, c, d) => (style.boxSizing === "border-box" ? 0 : px(style[a]) + px(style[b]) + px(style[c]) + px(style[d]));
    const w = parseFloat(style.width) + plus("paddingLeft", "paddingRight", "borderLeftWidth", "borderRightWidth");
    const h = parseFloat(style.height) + plus("paddingTop", "paddingBottom", "borderTopWidth", "borderBottomWidth");
    x += parseFloat(style.left) + (parseFloat(style.marginLeft) || 0) + moved[4];
    y += parseFloat(style.top) + (parseFloat(style.marginTop) || 0) + moved[5];
    return [x, y, w, h].every(Number.isFinite) ? [x, y, w, h].map(round) : null;
  };
  for (const [one, number] of [...numbers]) {
    const rect = rectOf(one);
    const style = getComputedStyle(one);
    const box = [number, round(rect.left), round(rect.top), round(rect.width), round(rect.height)];
    if (style.backgroundImage !== "none" || PICTURES.has(nameOf(one)))
      box.push(...SIDES.map((side) => round(px(style[`border${side}Width`]))), ...SIDES.map((side) => round(px(style[`padding${side}`]))));
    boxes.push(box);
    for (const [which, name] of [[1, "::before"], [2, "::after"]]) {
      const its = getComputedStyle(one, name);
      if (!its.content || its.content === "none" || its.content === "normal" || its.display === "none") continue;
      const found = pseudoBox(one, its);
      if (found) pseudos.push([number, which, ...found]);
    }
  }
  return {
    width: innerWidth,
    viewport: innerHeight,
    height,
    paths,
    boxes,
    pseudos,
    lists,
    runs: runs.map((run) => [numberOf(run.one), run.suffix, spots.get(run)]).filter(([, , found]) => found.length),
    isWhole: !isLate() && points <= limits.points && lineCount <= limits.lines,
  };
}
