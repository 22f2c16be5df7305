// Tells where along a line of text what lies below or above it may change: at the edges of boxes. Between two edges one
// point tells all. Of what is no upright box, a drawing's shape or what is turned or clipped, no edges are known.
async (all, floating, { rectOf, rectsOf, nameOf, contains, breathe }) => {
  const BAND_PX = 64;
  const MOST_COLUMNS = 8;
  const MOST_RECTS = 200;
  const SLIVER_PX = 3; // what is narrower no stroke of a letter stands on alone
  const ROUND_PX = 20;
  const LONG_PX = 240; // a line without edges that is looked at twice all the same
  const SHAPES = new Set(["path", "circle", "ellipse", "polygon", "polyline", "line", "text", "use", "image"]);
  const isUpright = (style) =>
    style.clipPath === "none" &&
    style.rotate === "none" &&
    (style.transform === "none" || /^matrix\([^,]+, 0, 0, /.test(style.transform));
  // a circle, or a box whose corners reach far into it
  const isRound = (style, { width, height }) => {
    const radius = parseFloat(style.borderTopLeftRadius) || parseFloat(style.borderBottomRightRadius) || 0;
    if (!radius || Math.min(width, height) < 2 * ROUND_PX) return false;
    return style.borderTopLeftRadius.includes("%") ? radius >= 20 : radius >= ROUND_PX;
  };
  const bands = new Map(); // 64 px of the page → the boxes that reach into them
  const add = (box) => {
    const last = Math.floor(Math.min(box.bottom, 2e6) / BAND_PX);
    for (let band = Math.max(0, Math.floor(box.top / BAND_PX)); band <= last; band++)
      if (bands.has(band)) bands.get(band).push(box);
      else bands.set(band, [box]);
  };
  const staying = []; // what does not scroll with the page, or not always
  const turned = new Set(); // and all that is in it
  for (const one of all) {
    await breathe();
    const style = getComputedStyle(one);
    if (style.display === "none") continue;
    if (/fixed|sticky/.test(style.position)) staying.push(one);
    const isOdd = turned.has(one.parentNode) || SHAPES.has(nameOf(one)) || !isUpright(style);
    if (isOdd) turned.add(one);
    for (const rect of [...rectsOf(one)].slice(0, MOST_RECTS)) {
      const { left, top, right, bottom } = rect;
      if (right > left && bottom > top) add({ left, top, right, bottom, isOdd: isOdd || isRound(style, rect) });
    }
  }
  for (const { one, box } of floating) {
    if (box) {
      const [left, top, wide, high] = box;
      add({ left, top, right: left + wide, bottom: top + high, isOdd: false });
      continue;
    }
    // turned or scaled: somewhere about its element
    const { left, top, right, bottom, width, height } = rectOf(one);
    add({ left: left - width, top: top - height, right: right + width, bottom: bottom + height, isOdd: true });
  }
  const evenly = (w) => Array.from({ length: Math.max(2, Math.min(MOST_COLUMNS, Math.ceil(w / 60))) }, () => 1);
  const meets = (box, x, y, w, h) => box.left < x + w && box.right > x && box.top < y + h && box.bottom > y;

  // What stays in sight lies elsewhere on the page each time that scrolls.
  let stayingBoxes = [];
  const scrolled = () => (stayingBoxes = staying.map((one) => ({ one, box: rectOf(one) })));
  const isIn = (one, around) => around === one || contains(around, one);

  // The stretches of a line of an element's, as shares of its width, and whether it has to be looked at in several heights.
  const stretchesOf = (own, [x, y, w, h], [left, top]) => {
    const high = [y + h * 0.2, h * 0.6];
    // at the top what stays stands where it is laid out, and so do the words in it
    const isAside = ({ one, box }) => meets(box, x - left, y - top, w, h) && (top > 0 || !isIn(own, one));
    let isEven = !stayingBoxes.some(isAside);
    let isFlat = isEven;
    const cuts = [];
    const first = Math.max(0, Math.floor(high[0] / BAND_PX));
    for (let band = first; isEven && band <= Math.floor((high[0] + high[1]) / BAND_PX); band++)
      for (const box of bands.get(band) ?? []) {
        if (!meets(box, x, ...[high[0], w, high[1]])) continue;
        if (box.isOdd) isEven = isFlat = false;
        if (box.top > high[0] || box.bottom < high[0] + high[1]) isFlat = false;
        for (const edge of [box.left, box.right]) if (edge > x + SLIVER_PX && edge < x + w - SLIVER_PX) cuts.push(edge - x);
      }
    const edges = [0, ...cuts.sort((a, b) => a - b).filter((cut, n) => !n || cut - cuts[n - 1] > SLIVER_PX), w];
    if (!isEven || edges.length > MOST_COLUMNS) return { shares: evenly(w), isFlat: false };
    if (edges.length === 2 && w > LONG_PX) return { shares: [1, 1], isFlat };
    return { shares: edges.slice(1).map((edge, n) => edge - edges[n]), isFlat };
  };
  return { stretchesOf, scrolled };
};
