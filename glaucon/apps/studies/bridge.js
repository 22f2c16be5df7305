// The one script that runs in a preview. It paints what the bench says, tells when it has, and what stands where.
(() => {
  const root = document.documentElement;
  const tell = (what, more) => parent.postMessage({ glaucon: what, ...more }, "*");
  // the palette, and the rules that a study adds to the site, which come after it
  const palette = new CSSStyleSheet();
  palette.replaceSync(":root {}");
  const worn = palette.cssRules[0].style;
  const added = new CSSStyleSheet();
  document.adoptedStyleSheets = [palette, added];
  const paint = (values) => {
    for (const [name, value] of Object.entries(values))
      if (name === "css") added.replaceSync(value ?? "");
      else if (value === null) worn.removeProperty(name);
      else worn.setProperty(name, value);
  };
  const shown = (number) => requestAnimationFrame(() => requestAnimationFrame(() => tell("painted", { number })));
  const LOOKS = ["color", "background-color", "background-image", "border-top-color", "border-bottom-color", "fill", "stroke"];
  const looks = (element) => {
    const style = getComputedStyle(element);
    return LOOKS.map((name) => style.getPropertyValue(name)).join("|");
  };
  // what changes when the properties do wears the role; nothing of it is ever painted
  const wearing = (names) => {
    const all = [...document.body.querySelectorAll("*")].filter((one) => one !== veil);
    const before = all.map(looks);
    const kept = names.map((name) => root.style.getPropertyValue(name));
    for (const name of names) root.style.setProperty(name, "rgb(1 254 3)");
    const found = all.filter((one, place) => looks(one) !== before[place]);
    names.forEach((name, place) =>
      kept[place] ? root.style.setProperty(name, kept[place]) : root.style.removeProperty(name),
    );
    // words take their colour from what is around them: the outermost that changes is enough
    return found.filter((one) => !found.includes(one.parentElement)).slice(0, 400);
  };
  let veil = null;
  const clear = (colour) => /^(transparent|rgba\(.*, 0\))$/.test(colour);
  const groundAt = (element) => {
    for (let one = element; one; one = one.parentElement) {
      const colour = getComputedStyle(one).backgroundColor;
      if (!clear(colour)) return colour;
    }
    return "rgb(255, 255, 255)";
  };
  const told = {
    wear({ values, state, number }) {
      if (values) paint(values);
      if (state !== undefined) state ? root.setAttribute("data-gl-state", state) : root.removeAttribute("data-gl-state");
      shown(number);
    },
    scroll: ({ top }) => scrollTo({ top, behavior: "instant" }),
    light({ names }) {
      veil?.remove();
      veil = null;
      if (!names.length) return;
      const holes = wearing(names).map((one) => one.getBoundingClientRect());
      const width = root.scrollWidth;
      const height = Math.max(root.scrollHeight, innerHeight);
      const hole = (box) => `M${box.left + scrollX} ${box.top + scrollY}h${box.width}v${box.height}h${-box.width}z`;
      veil = document.createElement("div");
      veil.style.cssText =
        `all:initial;position:absolute;inset:0 auto auto 0;width:${width}px;height:${height}px;z-index:2147483647;` +
        "pointer-events:none;background:rgb(228 228 228 / .82)";
      veil.style.clipPath = `path(evenodd, "M0 0h${width}v${height}h${-width}z${holes.map(hole).join("")}")`;
      document.body.append(veil);
    },
    look({ x, y, number }) {
      const element = document.elementFromPoint(x, y);
      if (!element) return tell("spot", { number });
      const hasWords = [...element.childNodes].some((one) => one.nodeType === 3 && one.data.trim());
      tell("spot", { number, words: hasWords ? getComputedStyle(element).color : undefined, ground: groundAt(element) });
    },
  };
  addEventListener("message", (event) => {
    if (event.source === parent && event.data) told[event.data.glaucon]?.(event.data);
  });
  document.addEventListener("submit", (event) => event.preventDefault(), true);
  document.addEventListener("click", (event) => event.preventDefault(), true);
  const measure = () => tell("height", { height: root.scrollHeight });
  addEventListener("DOMContentLoaded", () => tell("ready"));
  addEventListener("load", measure);
  addEventListener("resize", measure);
})();
