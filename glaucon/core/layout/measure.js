// Measures one page as it is laid out now: where the lines of its texts are, and which elements lie below and above
// points along each line. Numbers and paths only. What is asked of the page is asked through the browser's own
// getters, taken from their prototypes: a form field named "children" answers to no one here.
(cutsOf, breathe, lying = new Set()) => async (limits, isWanted = null) => {
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
  const contains = method(Node.prototype, "contains");
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
  const WITHOUT_WORDS = new Set([
    "script",
    "style",
    "template",
    "noscript",
    "head",
    "title",
    "iframe",
    "video",
    "audio",
    "canvas",
    "object",
  ]);
  const UNREAD = new Set(["hidden", "range", "color", "checkbox", "radio", "image", "file"]);
  const inner = (box, x, y, w, h) => [
    box.left + box.width * x,
    box.top + box.height * y,
    box.width * w,
    box.height * h,
  ];
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
  const px = (value) => Math.max(0, parseFloat(value) || 0);
  const isAnchor = (style) =>
    style.position !== "static" ||
    style.transform !== "none" ||
    style.filter !== "none" ||
    /paint|layout|strict|content/.test(style.contain);
  const pseudoBox = (one, style) => {
    let around = one;
    if (style.position === "absolute")
      while (around && typeOf(around) === 1 && !isAnchor(getComputedStyle(around))) around = parentOf(around);
    else if (style.position === "fixed") around = null;
    else return null;
    const moved =
      style.transform === "none" ? [0, 0, 0, 0, 0, 0] : (style.transform.match(/-?[\d.e-]+/g) ?? []).map(Number);
    if (style.transform !== "none" && (moved.length !== 6 || moved[0] !== 1 || moved[1] || moved[2] || moved[3] !== 1))
      return null;
    let [x, y] = [0, 0];
    if (around && typeOf(around) === 1) {
      const rect = rectOf(around);
      const own = getComputedStyle(around);
      [x, y] = [rect.left + px(own.borderLeftWidth), rect.top + px(own.borderTopWidth)];
    }
    const plus = (a, b, c, d) =>
      style.boxSizing === "border-box" ? 0 : px(style[a]) + px(style[b]) + px(style[c]) + px(style[d]);
    const w = parseFloat(style.width) + plus("paddingLeft", "paddingRight", "borderLeftWidth", "borderRightWidth");
    const h = parseFloat(style.height) + plus("paddingTop", "paddingBottom", "borderTopWidth", "borderBottomWidth");
    x += parseFloat(style.left) + (parseFloat(style.marginLeft) || 0) + moved[4];
    y += parseFloat(style.top) + (parseFloat(style.marginTop) || 0) + moved[5];
    return [x, y, w, h].every(Number.isFinite) ? [x, y, w, h].map(round) : null;
  };
  const paints = ({ backgroundColor, backgroundImage, boxShadow }) =>
    !/^rgba\(.*, 0\)$|^transparent$/.test(backgroundColor) || backgroundImage !== "none" || boxShadow !== "none";
  // what only clears floats says a space, or nothing
  const saysSomething = (content) => content && !/^(none|normal|"\s*")$/.test(content);
  // where only some places are wanted, what is elsewhere is not asked about, but for what laid something over others
  const isThere = (one) => {
    const { left, top, width, height } = rectOf(one);
    return isWanted([left, top, width, height]);
  };
  const some = isWanted ? all.filter((one) => lying.has(one) || isThere(one)) : all;
  const runs = [];
  const floating = []; // pseudo-elements out of the flow; no box: it is turned or scaled
  let lineCount = 0;
  const note = (one, suffix, lines) => {
    const kept = lines.filter(([x, y, w, h]) => x + w > 0 && y + h > 0 && x < width && y < height);
    if (!kept.some(isWanted ?? (() => true)) || lineCount > limits.lines) return;
    lineCount += kept.length;
    runs.push({ one, suffix, lines: kept });
  };
  for (const one of some) {
    if (isLate()) break;
    await breathe();
    if (WITHOUT_WORDS.has(nameOf(one))) continue;
    note(one, 0, ownLines(one));
    if (CONTROLS.has(nameOf(one))) continue;
    for (const [suffix, which] of [
      [1, "::before"],
      [2, "::after"],
    ]) {
      const style = getComputedStyle(one, which);
      if (!style.content || style.content === "none" || style.content === "normal" || style.display === "none")
        continue;
      if (/absolute|fixed/.test(style.position)) {
        if (paints(style) && rectsOf(one).length) {
          floating.push({ one, which: suffix, box: pseudoBox(one, style) });
          lying.add(one);
        }
        continue;
      }
      if (!saysSomething(style.content)) continue;
      // a pseudo-element tells no box: it stands in that of its element
      note(
        one,
        suffix,
        [...rectsOf(one)]
          .slice(0, 3)
          .filter((r) => r.width > 0 && r.height > 0)
          .map((r) => [r.left, r.top, r.width, r.height]),
      );
    }
  }

  // What takes no pointer is met all the same. Pseudo-elements answer as their element: without them it tells where it
  // is painted itself, with them where they are.
  const forced = new CSSStyleSheet();
  const meet = (pseudos) =>
    forced.replaceSync(
      `* { pointer-events: auto !important } *::before, *::after { pointer-events: ${pseudos} !important }`,
    );
  const before = sheetsOf.get.call(document);
  sheetsOf.set.call(document, [...before, forced]);
  // a cell is met, the rows it stands in are not, though they paint below it
  const withRows = (met) =>
    met.flatMap((one) => {
      const found = [one];
      if (getComputedStyle(one).display !== "table-cell") return found;
      for (let at = parentOf(one); at && typeOf(at) === 1; at = parentOf(at)) {
        if (!/^table-.*(row|group)/.test(getComputedStyle(at).display)) break;
        if (!met.includes(at)) found.push(at);
      }
      return found;
    });
  const orders = new Map(); // what is met at a point, topmost first → its number
  const met = [];
  const orderAt = (x, y) => {
    const found = under(document, x, y);
    const key = found.map(numberOf).join();
    if (!orders.has(key)) {
      orders.set(key, met.length);
      met.push(found);
    }
    return orders.get(key);
  };
  // every point along the lines, in the order that needs the least scrolling
  const points = [];
  const ordered = runs.flatMap((run) => run.lines.map((line) => ({ run, line }))).sort((a, b) => a.line[1] - b.line[1]);
  const cuts = await cutsOf(some, floating, { rectOf, rectsOf, nameOf, contains, breathe });
  const walk = async (some, visit) => {
    scrollTo({ left: 0, top: 0, behavior: "instant" });
    let view = [0, 0];
    cuts.scrolled();
    for (const one of some) {
      if (isLate()) return;
      await breathe();
      const [x, y, w, h] = one.line;
      const [left, top] = view;
      if (y + h > top + innerHeight || y < top || x + w > left + innerWidth || x < left) {
        const to = {
          left: Math.max(0, x + w - innerWidth),
          top: y + h > innerHeight ? Math.max(0, y - innerHeight / 5) : 0,
        };
        scrollTo({ ...to, behavior: "instant" });
        view = [scrollX, scrollY];
        cuts.scrolled();
      }
      visit(one, view);
    }
  };
  const lookAlong = ({ run, line }, view) => {
    const [x, y, w, h] = line;
    const { shares, isFlat } = cuts.stretchesOf(run.one, line, view);
    const whole = shares.reduce((sum, share) => sum + share, 0);
    let start = x + w * 0.02;
    for (const [column, share] of shares.entries()) {
      const end = start + (w * 0.96 * share) / whole;
      // what lies behind a line changes along it more often than across it
      for (const row of column || isFlat ? [0.5] : [0.2, 0.5, 0.8]) {
        if (points.length >= limits.points) return;
        const point = { run, line, start, end, x: (start + end) / 2, y: y + h * row, order: -1, full: -1 };
        point.order = orderAt(point.x - view[0], point.y - view[1]);
        points.push(point);
      }
      start = end;
    }
  };
  meet("none");
  await walk(ordered, lookAlong);
  const reaches = ({ box }, point) =>
    !box || (point.x >= box[0] && point.y >= box[1] && point.x <= box[0] + box[2] && point.y <= box[1] + box[3]);
  const overlaid = floating.length ? points.filter((point) => floating.some((one) => reaches(one, point))) : [];
  if (overlaid.length) {
    meet("auto");
    await walk(overlaid, (point, [left, top]) => (point.full = orderAt(point.x - left, point.y - top)));
  }
  const lists = [];
  const known = new Map();
  const listOf = ({ run, order, full }) => {
    const at = order < 0 ? -1 : met[order].indexOf(run.one);
    if (at < 0) return -1;
    const key = `${numberOf(run.one)} ${order} ${full}`;
    if (!known.has(key)) {
      known.set(key, lists.length);
      const below = withRows(met[order].slice(at, at + limits.deep));
      const above = met[order].slice(0, at).slice(-limits.deep);
      const all = full < 0 || full === order ? [] : met[full].slice(0, 2 * limits.deep);
      lists.push([below, above, all].map((some) => some.map(numberOf)));
    }
    return known.get(key);
  };
  const spots = new Map(runs.map((run) => [run, new Map()]));
  for (const point of points) {
    const list = listOf(point);
    if (list < 0) continue;
    const of = spots.get(point.run);
    if (!of.has(point.line)) of.set(point.line, new Map());
    const stretch = of.get(point.line).get(list);
    if (stretch) stretch[1] = point.end;
    else of.get(point.line).set(list, [point.start, point.end]);
  }
  const spotsOf = (run) =>
    [...spots.get(run)].flatMap(([[, y, , h], found]) =>
      [...found].map(([list, [from, to]]) => [
        round(from),
        round(y + h * 0.15),
        round(to - from),
        round(h * 0.7),
        list,
      ]),
    );
  scrollTo({ left: 0, top: 0, behavior: "instant" });
  sheetsOf.set.call(document, before);

  const SIDES = ["Top", "Right", "Bottom", "Left"];
  const PICTURES = new Set(["img", "video", "canvas", "iframe", "object", "embed", "svg"]);
  const boxes = [];
  const pseudos = [];
  for (const [one, number] of [...numbers]) {
    await breathe();
    const rect = rectOf(one);
    const style = getComputedStyle(one);
    const box = [number, round(rect.left), round(rect.top), round(rect.width), round(rect.height)];
    if (style.backgroundImage !== "none" || PICTURES.has(nameOf(one)))
      box.push(
        ...SIDES.map((side) => round(px(style[`border${side}Width`]))),
        ...SIDES.map((side) => round(px(style[`padding${side}`]))),
      );
    boxes.push(box);
  }
  for (const { one, which, box } of floating)
    if (numbers.has(one)) pseudos.push([numbers.get(one), which, ...(box ?? [])]);
  return {
    width: innerWidth,
    viewport: innerHeight,
    height,
    paths,
    boxes,
    pseudos,
    lists,
    runs: runs.map((run) => [numberOf(run.one), run.suffix, spotsOf(run)]).filter(([, , found]) => found.length),
    isWhole: !isLate() && points.length < limits.points && lineCount <= limits.lines,
  };
};
