// Measures a page at rest, and once more with all of it hovered where that opens, moves or covers something: a menu
// that drops down over what stands below it. Where the page answers to no such attribute it is the same at rest.
(measure) => async (limits) => {
  // with `breath`, so many ms, a hand that moves on the page around this one is not kept waiting
  const { port1, port2 } = new MessageChannel();
  let since = performance.now();
  const breathe = async () => {
    if (!limits.breath || performance.now() - since < limits.breath) return;
    await new Promise((go) => {
      port1.onmessage = go;
      port2.postMessage(null);
    });
    since = performance.now();
  };
  const take = measure(breathe);
  const every = () => Document.prototype.querySelectorAll.call(document, "*");
  const root = every()[0];
  const STATE = "data-gl-state";
  const FARTHEST = 4; // px that something may move before it matters
  const rectOf = (one) => Element.prototype.getBoundingClientRect.call(one);
  const worn = Element.prototype.getAttribute.call(root, STATE);
  const wear = (state) => {
    if (state === null) Element.prototype.removeAttribute.call(root, STATE);
    else Element.prototype.setAttribute.call(root, STATE, state);
    rectOf(root); // what moves by it begins to
    for (const moving of Document.prototype.getAnimations.call(document))
      try {
        moving.finish();
      } catch {
        moving.cancel();
      }
  };
  const standings = async (all) => {
    const found = [];
    for (const one of all) {
      await breathe();
      const { left, top, width, height } = rectOf(one);
      const { visibility, opacity, zIndex, position } = getComputedStyle(one);
      found.push({
        numbers: [left, top, width, height],
        look: `${visibility} ${Number(opacity) === 0} ${zIndex} ${position}`,
      });
    }
    return found;
  };
  if (worn !== null) wear(null);
  const measured = await take(limits);
  const all = [...every()].slice(0, limits.elements);
  const before = await standings(all);
  wear("hover");
  const places = []; // where something stood or stands that is elsewhere now, or otherwise
  (await standings(all)).forEach(({ numbers, look }, place) => {
    const was = before[place];
    if (
      look !== was.look ||
      numbers.some((number, n) => Math.abs(number - was.numbers[n]) > FARTHEST)
    )
      places.push(was.numbers, numbers);
  });
  const isThere = ([x, y, w, h]) =>
    places.some(
      ([left, top, width, height]) =>
        x < left + width && left < x + w && y < top + height && top < y + h,
    );
  // only of the lines that something may have happened to
  if (places.length) measured.hovered = await take(limits, isThere);
  wear(worn);
  port1.close();
  return measured;
};
