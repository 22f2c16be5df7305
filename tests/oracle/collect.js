// Runs in the page: every rendered text with its computed colour and the boxes its lines stand in.
() => {
  const path = (e) => {
    const parts = [];
    for (; e.parentElement; e = e.parentElement)
      parts.unshift(`${e.localName}:nth-child(${[...e.parentElement.children].indexOf(e) + 1})`);
    return [e.localName, ...parts].join(">");
  };
  const rgba = (css) => {
    const canvas = new OffscreenCanvas(1, 1).getContext("2d", { willReadFrequently: true });
    const m = css.match(/^rgba?\(([\d.]+), ([\d.]+), ([\d.]+)(?:, ([\d.]+))?\)$/);
    if (m) return [+m[1], +m[2], +m[3], m[4] === undefined ? 1 : +m[4]];
    const s = css.match(/^color\(srgb ([-\d.e]+) ([-\d.e]+) ([-\d.e]+)(?: \/ ([\d.e-]+))?\)$/);
    if (s) return [s[1] * 255, s[2] * 255, s[3] * 255, s[4] === undefined ? 1 : +s[4]];
    canvas.fillStyle = css;
    canvas.fillRect(0, 0, 1, 1);
    const p = canvas.getImageData(0, 0, 1, 1).data;
    return [p[0], p[1], p[2], p[3] / 255];
  };
  const shown = (e) => {
    const own = getComputedStyle(e);
    if (own.visibility !== "visible" || parseFloat(own.fontSize) === 0) return false;
    for (let a = e; a; a = a.parentElement) {
      const s = getComputedStyle(a);
      if (s.display === "none" || s.opacity === "0") return false;
    }
    return e.checkVisibility ? e.checkVisibility({ contentVisibilityAuto: false }) : true;
  };
  const boxes = (rects) =>
    [...rects].filter((r) => r.width > 1 && r.height > 1).map((r) => [r.left + scrollX, r.top + scrollY, r.width, r.height]);
  const found = [];
  const add = (e, style, rects, suffix = "") => {
    const inside = boxes(rects).filter((r) => r[0] + r[2] > 0 && r[1] + r[3] > 0);
    if (!inside.length) return;
    const fill = e.namespaceURI.endsWith("svg") ? style.fill : style.webkitTextFillColor;
    found.push({ path: path(e) + suffix, colour: rgba(fill), size: parseFloat(style.fontSize), weight: +style.fontWeight, boxes: inside });
  };
  for (const e of document.querySelectorAll("*")) {
    const style = getComputedStyle(e);
    if (!shown(e)) continue;
    if (e.matches("input, textarea")) {
      const labelled = ["submit", "reset", "button"].includes(e.type);
      const plain = !labelled && !["hidden", "range", "color", "checkbox", "radio", "image", "file"].includes(e.type);
      const b = e.getBoundingClientRect();
      const inner = [{ left: b.left + b.width * 0.2, top: b.top + b.height * 0.3, width: b.width * 0.6, height: b.height * 0.4 }];
      if (e.value || labelled) add(e, style, inner);
      else if (plain && (e.placeholder || !["text", "search", "url", "tel", "email", "password", "number"].includes(e.type)) && e.type !== "textarea")
        add(e, e.placeholder ? getComputedStyle(e, "::placeholder") : style, inner);
      else if (e.placeholder) add(e, getComputedStyle(e, "::placeholder"), inner);
      continue;
    }
    if (e.localName === "select") {
      if (e.selectedOptions.length) {
        const b = e.getBoundingClientRect();
        add(e, style, [{ left: b.left + 6, top: b.top + b.height * 0.3, width: b.width * 0.4, height: b.height * 0.4 }]);
      }
      continue;
    }
    if (e.closest("select, head, iframe, video, audio, canvas, object")) continue;
    const texts = [...e.childNodes].filter((n) => n.nodeType === 3 && /[^ \t\n\f\r]/.test(n.data));
    for (const which of ["::before", "::after"]) {
      const s = getComputedStyle(e, which);
      const words = s.content.match(/"(?:\\.|[^"\\])*"|counter|attr|quote/);
      if (!words || s.content === '""' || s.display === "none" || s.visibility !== "visible") continue;
      found.push({ path: path(e) + which, colour: rgba(s.webkitTextFillColor), size: parseFloat(s.fontSize), weight: +s.fontWeight, boxes: [] });
    }
    if (!texts.length) continue;
    const rects = texts.flatMap((n) => { const r = document.createRange(); r.selectNodeContents(n); return [...r.getClientRects()]; });
    const clipped = (() => {
      for (let a = e; a; a = a.parentElement) {
        const s = getComputedStyle(a), b = a.getBoundingClientRect();
        if (s.overflow !== "visible" && s.display !== "inline" && (b.width <= 1 || b.height <= 1)) return true;
        if (s.clip !== "auto" && /rect\((0px|1px),? (0px|1px),? (0px|1px),? (0px|1px)\)/.test(s.clip)) return true;
      }
      return false;
    })();
    if (!clipped) add(e, style, rects);
  }
  return found;
}
