// Runs in the page: every text with its computed colour, its opacity and the boxes its lines stand in.
() => {
  const styles = new Map();
  const styleOf = (e) => styles.get(e) ?? (styles.set(e, getComputedStyle(e)), styles.get(e));
  const paths = new Map();
  const path = (e) => {
    if (!paths.has(e)) {
      let place = 1;
      for (let s = e.previousElementSibling; s; s = s.previousElementSibling) place++;
      paths.set(e, e.parentElement ? `${path(e.parentElement)}>${e.localName}:nth-child(${place})` : e.localName);
    }
    return paths.get(e);
  };
  const pixel = new OffscreenCanvas(1, 1).getContext("2d", { willReadFrequently: true });
  const rgba = (css) => {
    const m = css.match(/^rgba?\(([\d.]+), ([\d.]+), ([\d.]+)(?:, ([\d.]+))?\)$/);
    if (m) return [+m[1], +m[2], +m[3], m[4] === undefined ? 1 : +m[4]];
    const s = css.match(/^color\(srgb ([-\d.e]+) ([-\d.e]+) ([-\d.e]+)(?: \/ ([\d.e-]+))?\)$/);
    const clip = (v) => Math.max(0, Math.min(255, v * 255));
    if (s) return [clip(s[1]), clip(s[2]), clip(s[3]), s[4] === undefined ? 1 : +s[4]];
    pixel.clearRect(0, 0, 1, 1);
    pixel.fillStyle = css;
    pixel.fillRect(0, 0, 1, 1);
    const p = pixel.getImageData(0, 0, 1, 1).data;
    return [p[0], p[1], p[2], p[3] / 255];
  };
  const scrollable = document.scrollingElement;
  const width = Math.max(scrollable.scrollWidth, innerWidth), height = Math.max(scrollable.scrollHeight, innerHeight);

  // What of a box is left after every ancestor that clips it. What scrolling brings back is not clipped away, but
  // with `seen` it is: only what is on screen without scrolling has pixels.
  const clipped = (box, element, seen) => {
    let [l, t, r, b] = [box.left, box.top, box.right, box.bottom];
    let position = styleOf(element).position;
    const cut = (c) => { l = Math.max(l, c.left); t = Math.max(t, c.top); r = Math.min(r, c.right); b = Math.min(b, c.bottom); };
    for (let a = element; a; a = a.parentElement) {
      const s = styleOf(a), own = a.getBoundingClientRect();
      const isContaining = a === element || s.position !== "static" || s.transform !== "none" || s.filter !== "none" || s.contain.includes("paint");
      if (a !== element && (position === "absolute" || position === "fixed") && !isContaining) continue;
      if (a !== element && position === "fixed" && s.transform === "none" && s.filter === "none") continue;
      if (s.display !== "inline" && s.display !== "contents") {
        const cuts = seen ? ["hidden", "clip", "auto", "scroll"] : ["hidden", "clip"];
        const x = cuts.includes(s.overflowX), y = cuts.includes(s.overflowY);
        if (a === document.body || a === document.documentElement) continue;
        // where something scrolls, scrolling brings it into the part that shows
        if (!seen && /auto|scroll/.test(s.overflowX + s.overflowY)) [l, t, r, b] = [own.left, own.top, own.right, own.bottom];
        else cut({ left: x ? own.left : -1e7, right: x ? own.right : 1e7, top: y ? own.top : -1e7, bottom: y ? own.bottom : 1e7 });
      }
      const rect = s.clip.match(/^rect\((-?[\d.]+|auto)(?:px)?,? (-?[\d.]+|auto)(?:px)?,? (-?[\d.]+|auto)(?:px)?,? (-?[\d.]+|auto)(?:px)?\)$/);
      if (rect && ["absolute", "fixed"].includes(s.position))
        cut({ top: own.top + (+rect[1] || 0), right: rect[2] === "auto" ? own.right : own.left + +rect[2],
              bottom: rect[3] === "auto" ? own.bottom : own.top + +rect[3], left: own.left + (+rect[4] || 0) });
      const inset = s.clipPath.match(/^inset\(([\d.]+)%\)$/);
      if (inset && +inset[1] >= 50) return null;
      if (a !== element || s.position !== "static") if (s.position !== "static") position = s.position;
    }
    return r - l > 1 && b - t > 1 ? [l + scrollX, t + scrollY, r - l, b - t] : null;
  };
  const inArea = ([l, t, w, h]) => l + w > 0 && t + h > 0 && l < width && t < height;

  const shown = (e) => {
    const own = styleOf(e);
    if (own.visibility !== "visible" || parseFloat(own.fontSize) === 0) return false;
    for (let a = e; a; a = a.parentElement) if (styleOf(a).opacity === "0") return false;
    for (let a = e; a; a = a.parentElement) {
      const s = styleOf(a), p = a.parentElement;
      if (s.display === "none" || (a !== e && s.contentVisibility === "hidden")) return false;
      if (p?.localName === "details" && !p.open && !(a.localName === "summary" && a === p.querySelector(":scope > summary"))) return false;
    }
    return true;
  };
  const opacityOf = (e) => { let o = 1; for (let a = e; a; a = a.parentElement) o *= +styleOf(a).opacity; return o; };
  const found = [];
  const clip = (rects, e, seen = true) => [...rects].filter((r) => r.width > 0 && r.height > 0).map((r) => clipped(r, e, seen)).filter((b) => b && inArea(b));
  const add = (e, style, rects, text, suffix = "") => {
    if (!clip(rects, e, false).length) return;
    const boxes = clip(rects, e);
    const svg = e.namespaceURI.endsWith("svg") && e.localName !== "foreignObject";
    let filled = style.backgroundClip.includes("text");
    for (let a = e; a && !svg; a = a.parentElement) filled ||= styleOf(a).backgroundClip.includes("text");
    // in a faded box words do not mix with the box' own background
    let own = null;
    for (let a = e; a && !own && opacityOf(e) < 1 && !suffix; a = a.parentElement) {
      const s = styleOf(a), ground = rgba(s.backgroundColor);
      if (s.backgroundImage !== "none") break;
      if (ground[3] === 1) own = ground.slice(0, 3);
      if (+s.opacity < 1) break;
    }
    found.push({ path: path(e) + suffix, filled, own, plain: (!e.closest("a[href]") || opacityOf(e) < 1) && (svg || style.webkitTextFillColor === style.color), colour: rgba(svg ? style.fill : style.webkitTextFillColor), opacity: opacityOf(e) * (suffix || style === styleOf(e) ? 1 : +style.opacity),
      size: parseFloat(style.fontSize), weight: +style.fontWeight, boxes, whole: style === styleOf(e) && e.localName !== "input" && e.localName !== "select" ? boxes : clip(e.getClientRects(), e), text: text.replace(/\s+/g, " ").trim().slice(0, 80) });
  };
  const inner = (b, x0, y0, w, h) => ({ left: b.left + b.width * x0, top: b.top + b.height * y0, right: b.left + b.width * (x0 + w), bottom: b.top + b.height * (y0 + h), width: b.width * w, height: b.height * h });
  const words = (content) => {
    if (!content || content === "none" || content === "normal") return "";
    return content.replace(/^(?:url\([^)]*\)|\w+-gradient\(.*?\)) ?/g, "").split(" / ")[0].replace(/"((?:\\.|[^"\\])*)"|counters?\([^)]*\)|(open|close)-quote/g, (whole, quoted, quote) => quoted === undefined ? (quote ? "“" : "1") : quoted);
  };

  for (const e of document.querySelectorAll("*")) {
    if (e.closest("head, iframe, video, audio, canvas, object, noscript, template") || !shown(e)) continue;
    const style = styleOf(e);
    if (e.localName === "input" || e.localName === "textarea") {
      const b = e.getBoundingClientRect();
      const middle = [inner(b, 0.2, 0.3, 0.6, e.localName === "textarea" ? 0.2 : 0.4)];
      const labelled = ["submit", "reset", "button"].includes(e.type);
      if (["hidden", "range", "color", "checkbox", "radio", "image", "file"].includes(e.type)) continue;
      const text = labelled ? (e.value || (e.hasAttribute("value") ? "" : { submit: "Submit", reset: "Reset" }[e.type] ?? "")) : e.value;
      if (text.trim()) add(e, style, middle, text);
      else if (!labelled && !e.value && e.placeholder.trim() && getComputedStyle(e, "::placeholder").opacity !== "0") add(e, getComputedStyle(e, "::placeholder"), middle, e.placeholder);
      else if (["date", "time", "datetime-local", "month", "week"].includes(e.type)) add(e, style, middle, "date");
      continue;
    }
    if (e.localName === "select" && !e.multiple && e.size <= 1) {
      const text = e.selectedOptions[0]?.text ?? "";
      if (text.trim()) add(e, style, [inner(e.getBoundingClientRect(), 0.1, 0.3, 0.4, 0.4)], text);
      continue;
    }
    if (e.parentElement?.closest("select:not([multiple]):not([size])")) continue;
    if (e.localName === "option") { add(e, style, e.getClientRects(), e.text); continue; }
    if ((e.localName === "details" && !e.open) || style.contentVisibility === "hidden") continue;
    for (const which of ["::before", "::after"]) {
      const s = getComputedStyle(e, which), text = words(s.content);
      if (!text.trim() || s.display === "none" || s.visibility !== "visible" || s.opacity === "0" || parseFloat(s.fontSize) === 0) continue;
      // a pseudo-element tells no box: its glyphs are those in its element's box that no other text stands at
      const alone = !words(getComputedStyle(e, which === "::before" ? "::after" : "::before").content).trim();
      const range = document.createRange();
      range.selectNodeContents(e);
      const others = e.textContent.trim() ? [...range.getClientRects()].map((r) => [r.left + scrollX, r.top + scrollY, r.width, r.height]) : [];
      const inFlow = !["absolute", "fixed"].includes(s.position);
      if (inFlow && !clip(e.getClientRects(), e, false).length && styleOf(e).display !== "contents") continue;
      found.push({ path: path(e) + which, filled: s.backgroundClip.includes("text"), glyphs: alone && inFlow, whole: alone && inFlow ? clip(e.getClientRects(), e) : [], others, colour: rgba(s.webkitTextFillColor), opacity: opacityOf(e) * +s.opacity, size: parseFloat(s.fontSize), weight: +s.fontWeight, boxes: [], text });
    }
    const texts = [...e.childNodes].filter((n) => n.nodeType === 3 && /\S/.test(n.data));
    if (!texts.length) continue;
    const rects = texts.flatMap((n) => { const r = document.createRange(); r.selectNodeContents(n); return [...r.getClientRects()]; });
    add(e, style, rects, texts.map((n) => n.data).join(" "));
  }
  return { runs: found, width, height };
}
