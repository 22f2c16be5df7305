// Measures a page at rest, and once more with all of it hovered where that opens, moves or covers something: a menu
// that drops down over what stands below it. Where the page answers to no such attribute it is the same at rest.
(take) => (limits) => {
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
  const standings = (all) =>
    all.map((one) => {
      const { left, top, width, height } = rectOf(one);
      const { visibility, opacity, zIndex, position } = getComputedStyle(one);
      return {
        numbers: [left, top, width, height],
        look: `${visibility} ${Number(opacity) === 0} ${zIndex} ${position}`,
      };
    });
  if (worn !== null) wear(null);
  const measured = take(limits);
  const all = [...every()].slice(0, limits.elements);
  const before = standings(all);
  wear("hover");
  const places = []; // where something stood or stands that is elsewhere now, or otherwise
  standings(all).forEach(({ numbers, look }, place) => {
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
  if (places.length) measured.hovered = take(limits, isThere);
  wear(worn);
  return measured;
};
