/*
 * Tells what stands on a page once its scripts have run: it waits until nothing moves any more, scrolls to the end and
 * back, and gives the page as HTML, with what a tree alone does not hold: the rules of sheets that scripts made, what
 * fields hold, trees in the shadow, and what a click opens (`opening.js`). An expression: a function of limits, and of
 * what is told early how the page stands before anything is opened, that gives a promise.
 */
(async (limits, early = () => {}) => {
  const told = [];
  const wait = (ms) => new Promise((go) => setTimeout(go, ms));
  // what watches whether it is in sight is told after a frame, which a busy machine takes its time for
  const painted = (most = 1_500) =>
    Promise.race([new Promise((go) => requestAnimationFrame(() => requestAnimationFrame(go))), wait(most)]);

  /** Resolves once nothing in the tree has changed for a while; gives whether it came to that in time. */
  const quiet = async (still, most) => {
    let changed = performance.now();
    const watching = new MutationObserver(() => (changed = performance.now()));
    watching.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
    const until = performance.now() + most;
    try {
      while (performance.now() < until) {
        await wait(Math.min(50, still / 2));
        if (performance.now() - changed >= still) return true;
      }
      return false;
    } finally {
      watching.disconnect();
    }
  };
  /** Ends all that moves; gives whether anything did. */
  const settle = () => {
    const some = document.getAnimations();
    for (const moving of some)
      try {
        moving.finish();
      } catch {
        moving.cancel();
      }
    return some.length > 0;
  };
  const scroller = () => document.scrollingElement ?? document.documentElement;
  const throughIt = async () => {
    const high = Math.max(200, innerHeight * 0.8);
    const until = performance.now() + limits.scrolling;
    let at = 0;
    while (at < scroller().scrollHeight - innerHeight && performance.now() < until) {
      at += high;
      scrollTo({ top: at, behavior: "instant" });
      await painted();
      await wait(limits.step);
    }
    if (at < scroller().scrollHeight - innerHeight) told.push("endless");
    await painted();
    await painted();
    await quiet(150, limits.after);
    scrollTo({ top: 0, behavior: "instant" });
    await painted();
    await quiet(150, limits.after);
  };

  const rulesOf = (sheet) => {
    try {
      return [...sheet.cssRules].map((rule) => rule.cssText).join("\n");
    } catch {
      return null;
    }
  };
  const asParsed = (text) => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(text.replace(/@import[^;]*;/g, ""));
    return rulesOf(sheet);
  };
  /** The text of a style element, or of its rules where scripts have changed those. */
  const written = (style) => {
    const rules = style.sheet && rulesOf(style.sheet);
    if (rules === null || rules === undefined) return style.textContent;
    const own = rules.replace(/@import[^;]*;\s*/g, "");
    return own.trim() === asParsed(style.textContent).trim() ? style.textContent : rules;
  };
  const put = (element, name, is) => (is ? element.setAttribute(name, "") : element.removeAttribute(name));
  const holds = (one, copy) => {
    const { localName } = one;
    if (localName === "style") {
      const text = written(one);
      if (text !== one.textContent) copy.textContent = text;
      if (one.sheet?.disabled) copy.setAttribute("media", "not all");
    } else if (localName === "link" && one.sheet?.disabled && !one.hasAttribute("disabled")) {
      copy.setAttribute("media", "not all");
    } else if (localName === "script") {
      copy.textContent = "";
    } else if (localName === "input") {
      if (one.type === "checkbox" || one.type === "radio") put(copy, "checked", one.checked);
      else if (!["file", "password", "hidden"].includes(one.type) && one.value !== one.defaultValue)
        copy.setAttribute("value", one.value);
    } else if (localName === "textarea") {
      if (one.value !== one.defaultValue) copy.textContent = one.value;
    } else if (localName === "option") {
      if (one.selected !== one.defaultSelected) put(copy, "selected", one.selected);
    } else if (localName === "canvas" && one.width * one.height > 2500) {
      told.push("canvas");
      const drawn = drawing(one);
      const said = copy.getAttribute("style") ?? "";
      if (drawn) copy.setAttribute("style", `${said};background:url(${drawn}) 0 0/100% 100% no-repeat`);
    }
  };
  /** What is drawn on a canvas, as a picture; nothing where it may not be looked at, or is too large to be kept. */
  const drawing = (canvas) => {
    try {
      const picture = canvas.toDataURL("image/webp", 0.8);
      return picture.length < limits.letters / 20 ? picture : "";
    } catch {
      return "";
    }
  };
  const adopted = (root) =>
    (root.adoptedStyleSheets ?? []).map((sheet) => {
      const style = document.createElement("style");
      style.setAttribute("data-gl-adopted", "");
      style.textContent = rulesOf(sheet) ?? "";
      if (sheet.disabled) style.setAttribute("media", "not all");
      return style;
    });

  let left = limits.elements;
  const known = new Map(); // each element with its copy
  const copied = (root, copy) => {
    const ones = [root, ...root.querySelectorAll("*")];
    const copies = [copy, ...copy.querySelectorAll("*")];
    left -= ones.length;
    if (left < 0) throw new Error("too large");
    ones.forEach((one, place) => {
      if (!one.localName) return;
      known.set(one, copies[place]);
      holds(one, copies[place]);
      if (one.shadowRoot) {
        const inside = document.createElement("template");
        inside.setAttribute("shadowrootmode", "open");
        const fragment = document.createDocumentFragment();
        for (const node of one.shadowRoot.childNodes) fragment.append(node.cloneNode(true));
        copied(one.shadowRoot, fragment);
        inside.content.append(fragment, ...adopted(one.shadowRoot));
        copies[place].prepend(inside);
      }
    });
  };
  const doctype = () => {
    const type = document.doctype;
    if (!type) return "";
    const ids = type.publicId ? ` PUBLIC "${type.publicId}" "${type.systemId}"` : "";
    return `<!DOCTYPE ${type.name}${ids}>\n`;
  };

  if (!(await quiet(limits.still, limits.quiet))) told.push("restless");
  await throughIt();
  settle();
  const copy = document.documentElement.cloneNode(true);
  copied(document.documentElement, copy);
  copy.querySelector("head")?.append(...adopted(document));
  const asItStands = () => {
    const html = doctype() + copy.outerHTML;
    if (html.length > limits.letters) throw new Error("too large");
    return { html, told: [...new Set(told)] };
  };
  const stands = asItStands();
  if (!limits.opening) return stands;
  early(stands);
  const opening = /* opening */ null;
  const opened = await opening({ limits, told, wait, painted, quiet, settle, holds, written })(known);
  if (opened.length) {
    const data = document.createElement("script");
    data.type = "application/json";
    data.setAttribute("data-gl-opened", "");
    data.textContent = JSON.stringify(opened).replaceAll("<", "\\u003c");
    copy.querySelector("head")?.append(data);
  }
  return asItStands();
})
