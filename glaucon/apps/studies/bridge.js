// The one script that runs in a preview. It paints what the bench says, tells when it has, and what stands where.
(() => {
  const root = document.documentElement;
  const tell = (what, more) =>
    parent.postMessage({ glaucon: what, ...more }, "*");
  // the palette, and the rules that a study adds to the site, which come after it
  const palette = new CSSStyleSheet();
  palette.replaceSync(":root {}");
  const worn = palette.cssRules[0].style;
  const added = new CSSStyleSheet();
  document.adoptedStyleSheets = [palette, added];
  // what rules name lies at the top of the site, and a page may lie deeper
  const top = `${location.origin}${location.pathname.split("/").slice(0, 3).join("/")}/`;
  const led = (css) =>
    css.replaceAll('url("backdrops/', `url("${top}backdrops/`);
  const paint = (values) => {
    for (const [name, value] of Object.entries(values))
      if (name === "css") added.replaceSync(led(value ?? ""));
      else if (value === null) worn.removeProperty(name);
      else worn.setProperty(name, value);
  };
  const shown = (number) =>
    requestAnimationFrame(() =>
      requestAnimationFrame(() => tell("painted", { number })),
    );
  const LOOKS = [
    "color",
    "background-color",
    "background-image",
    "border-top-color",
    "border-bottom-color",
    "fill",
    "stroke",
  ];
  const looks = (element) => {
    const style = getComputedStyle(element);
    return LOOKS.map((name) => style.getPropertyValue(name)).join("|");
  };
  // what changes when the properties do wears the role; nothing of it is ever painted
  const wearing = (names) => {
    const all = [...document.body.querySelectorAll("*")].filter(
      (one) => one !== veil,
    );
    const before = all.map(looks);
    const kept = names.map((name) => root.style.getPropertyValue(name));
    for (const name of names) root.style.setProperty(name, "rgb(1 254 3)");
    const found = all.filter((one, place) => looks(one) !== before[place]);
    names.forEach((name, place) =>
      kept[place]
        ? root.style.setProperty(name, kept[place])
        : root.style.removeProperty(name),
    );
    // words take their colour from what is around them: the outermost that changes is enough
    return found
      .filter((one) => !found.includes(one.parentElement))
      .slice(0, 400);
  };
  let veil = null;
  let eyes = null;
  const clear = (colour) => /^(transparent|rgba\(.*, 0\))$/.test(colour);
  const groundAt = (element) => {
    for (let one = element; one; one = one.parentElement) {
      const colour = getComputedStyle(one).backgroundColor;
      if (!clear(colour)) return colour;
    }
    return "rgb(255, 255, 255)";
  };
  // close up: what is clicked or stepped to is told, and what a choice reaches is outlined
  const LEFT_OUT = "script, style, template, link, meta, [data-gl-marks]";
  const isShown = (one) =>
    !one.matches(LEFT_OUT) && one.getClientRects().length > 0;
  // a way down leads through shadow roots, each as the server counts it
  const SHADOW = "gl-shadow:nth-child(0)";
  const pathOf = (one) => {
    const around = one.parentNode;
    if (!around || around === document) return one.localName;
    const way = around instanceof ShadowRoot ? `${pathOf(around.host)}>${SHADOW}` : pathOf(around);
    return `${way}>${one.localName}:nth-child(${[...around.children].indexOf(one) + 1})`;
  };
  const found = (selector) => {
    try {
      const [first, ...further] = selector.split(`>${SHADOW}`);
      const roots = further.reduce(
        (some, way) => some.flatMap((one) => (one.shadowRoot ? [...one.shadowRoot.querySelectorAll(`:host${way}`)] : [])),
        [...document.querySelectorAll(first)],
      );
      return roots.filter(isShown);
    } catch {
      return [];
    }
  };
  const boxOf = (selector) => {
    const boxes = found(selector).map((one) => one.getBoundingClientRect());
    if (!boxes.length) return null;
    const left = Math.min(...boxes.map((one) => one.left)) + scrollX;
    const top = Math.min(...boxes.map((one) => one.top)) + scrollY;
    const right = Math.max(...boxes.map((one) => one.right)) + scrollX;
    const bottom = Math.max(...boxes.map((one) => one.bottom)) + scrollY;
    return [left, top, right - left, bottom - top];
  };
  let isClose = false;
  let chosen = null;
  let marked = null;
  let marks = null;
  const pick = (one) => {
    if (!one || one === root) return;
    chosen = one;
    one.scrollIntoView({ block: "nearest", behavior: "instant" });
    tell("picked", { path: pathOf(one) });
  };
  const outline = (one, style, label) => {
    const box = one.getBoundingClientRect();
    const frame = document.createElement("div");
    frame.style.cssText =
      `all:initial;position:absolute;left:${box.left + scrollX - 2}px;top:${box.top + scrollY - 2}px;` +
      `width:${box.width + 4}px;height:${box.height + 4}px;box-sizing:border-box;` +
      `border:3px ${style} #1b1b1b;outline:2px solid #fff`;
    if (label) {
      const tag = document.createElement("span");
      tag.textContent = label;
      const over = box.top > 34 ? "bottom:100%" : "top:100%";
      tag.style.cssText =
        `all:initial;position:absolute;left:-3px;${over};padding:2px 8px;background:#1b1b1b;color:#fff;` +
        "font:600 14px/1.3 system-ui,sans-serif;white-space:nowrap";
      frame.append(tag);
    }
    return frame;
  };
  const draw = () => {
    marks?.remove();
    if (!isClose || !marked) return;
    marks = document.createElement("div");
    marks.dataset.glMarks = "";
    marks.style.cssText =
      "all:initial;position:absolute;inset:0 auto auto 0;z-index:2147483647;pointer-events:none";
    const own = marked.chosen ? found(marked.chosen)[0] : null;
    const others = marked.reach
      ? found(marked.reach).filter((one) => one !== own && one !== root)
      : [];
    for (const one of others.slice(0, 300))
      marks.append(outline(one, "dashed", ""));
    if (own) marks.append(outline(own, "solid", marked.label));
    root.append(marks);
  };
  const STEPS = {
    next: (one) => one.nextElementSibling,
    previous: (one) => one.previousElementSibling,
    out: (one) => (one === document.body ? null : one.parentElement),
    in: (one) => [...one.children].find(isShown),
  };
  const step = (way) => {
    let one = chosen ?? document.body;
    do one = STEPS[way](one);
    while (one && !isShown(one) && way !== "out");
    if (one) pick(one);
    else if (!chosen) pick(document.body);
  };
  const KEYS = {
    ArrowRight: "next",
    ArrowLeft: "previous",
    ArrowUp: "out",
    ArrowDown: "in",
  };
  const told = {
    close({ on }) {
      isClose = on;
      draw();
    },
    mark(what) {
      marked = what;
      if (what.chosen) chosen = found(what.chosen)[0] ?? chosen;
      draw();
    },
    step: ({ way }) => step(way),
    show: ({ selector }) =>
      found(selector)[0]?.scrollIntoView({
        block: "center",
        behavior: "instant",
      }),
    wear({ values, state, opened, number }) {
      if (values) paint(values);
      if (opened !== undefined && open(opened)) {
        measure();
        draw();
      }
      if (state !== undefined)
        state
          ? root.setAttribute("data-gl-state", state)
          : root.removeAttribute("data-gl-state");
      shown(number);
    },
    boxes: ({ selectors }) =>
      tell("boxes", {
        boxes: Object.fromEntries(
          Object.entries(selectors).map(([key, one]) => [key, boxOf(one)]),
        ),
      }),
    // the page as other eyes see it; a browser applies no such filter to a frame from outside
    eyes({ values, blur }) {
      eyes?.remove();
      eyes = null;
      root.style.removeProperty("filter");
      if (blur) root.style.setProperty("filter", `blur(${Number(blur)}px)`);
      if (blur || !values) return;
      const named = (name, attributes, inside = []) => {
        const one = document.createElementNS("http://www.w3.org/2000/svg", name);
        for (const [key, value] of Object.entries(attributes)) one.setAttribute(key, value);
        one.append(...inside);
        return one;
      };
      const matrix = named("feColorMatrix", { type: "matrix", values });
      const filter = named(
        "filter",
        { id: "gl-eyes", "color-interpolation-filters": "linearRGB", x: 0, y: 0, width: 1, height: 1 },
        [matrix],
      );
      eyes = named("svg", { width: 0, height: 0, style: "all:initial;position:absolute" }, [filter]);
      root.append(eyes);
      root.style.setProperty("filter", "url(#gl-eyes)");
    },
    scroll: ({ top }) => scrollTo({ top, behavior: "instant" }),
    light({ names }) {
      veil?.remove();
      veil = null;
      if (!names.length) return;
      const holes = wearing(names).map((one) => one.getBoundingClientRect());
      const width = root.scrollWidth;
      const height = Math.max(root.scrollHeight, innerHeight);
      const hole = (box) =>
        `M${box.left + scrollX} ${box.top + scrollY}h${box.width}v${box.height}h${-box.width}z`;
      veil = document.createElement("div");
      veil.style.cssText =
        `all:initial;position:absolute;inset:0 auto auto 0;width:${width}px;height:${height}px;z-index:2147483647;` +
        "pointer-events:none;background:rgb(228 228 228 / .82)";
      veil.style.clipPath = `path(evenodd, "M0 0h${width}v${height}h${-width}z${holes.map(hole).join("")}")`;
      document.body.append(veil);
    },
    async look({ x, y, number }) {
      // until its pictures have come, other things lie there
      if (document.readyState !== "complete")
        await Promise.race([
          new Promise((go) => addEventListener("load", go, { once: true })),
          new Promise((go) => setTimeout(go, 2500)),
        ]);
      const element = document.elementFromPoint(x, y);
      if (!element) return tell("spot", { number });
      const picture = await pictureAt(element, x, y).catch(() => null);
      const hasWords = [...element.childNodes].some(
        (one) => one.nodeType === 3 && one.data.trim(),
      );
      tell("spot", {
        number,
        words: hasWords ? getComputedStyle(element).color : undefined,
        ground: picture ?? groundAt(element),
        isPicture: picture !== null,
        path: pathOf(element),
      });
    },
  };
  const pictureAt = /* picture */ null;
  // what a click opens is known once the page is there
  let opener = null;
  const open = (label) => (opener ??= /* opened */ null(top))(label);
  // where things lie, told once, when fonts and pictures have come and what moves stands at its end
  const take = /* measure */ null;
  const LONGEST = 3000; // ms that fonts and pictures are waited for
  const after = (waits) =>
    Promise.race([waits, new Promise((go) => setTimeout(go, LONGEST))]);
  const lookClosely = async ({ nonce, limits }) => {
    root.getBoundingClientRect(); // laid out, it asks for its fonts
    const pictures = [
      ...Document.prototype.querySelectorAll.call(document, "img"),
    ];
    for (const one of pictures) one.loading = "eager";
    const come = pictures
      .filter((one) => !one.complete)
      .map((one) => new Promise((go) => (one.onload = one.onerror = go)));
    await after(Promise.all([document.fonts.ready, ...come]));
    for (const moving of Document.prototype.getAnimations.call(document))
      try {
        moving.finish();
      } catch {
        moving.cancel();
      }
    tell("measured", { nonce, measured: await take(limits) });
  };
  told.measure = (asked) =>
    lookClosely(asked).catch(() =>
      tell("measured", { nonce: asked.nonce, measured: null }),
    );
  addEventListener("message", (event) => {
    if (event.source === parent && event.data)
      told[event.data.glaucon]?.(event.data);
  });
  document.addEventListener("submit", (event) => event.preventDefault(), true);
  document.addEventListener(
    "click",
    (event) => {
      event.preventDefault();
      if (isClose) pick(event.composedPath()[0]);
    },
    true,
  );
  document.addEventListener("keydown", (event) => {
    if (!isClose) return;
    if (event.key === "Escape") tell("left");
    if (!(event.key in KEYS)) return;
    event.preventDefault();
    step(KEYS[event.key]);
  });
  const measure = () => tell("height", { height: root.scrollHeight });
  addEventListener("DOMContentLoaded", () => tell("ready"));
  addEventListener("load", () => (measure(), draw()));
  addEventListener("resize", () => (measure(), draw()));
})();
