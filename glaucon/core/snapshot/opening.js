/*
 * Opens, one by one, what a click opens on a page that stands (menus, tabs, folds, dialogs, a dark switch), and gives
 * each as what it changes, told against the page as it stood. An expression: a function of `stood.js`'s own tools that
 * gives a function of the elements that stood with their copies.
 */
(({ limits, told, wait, painted, quiet, settle, holds, written }) => async (known) => {
  const SURE =
    "summary, [aria-expanded], [aria-haspopup], [aria-controls], [aria-pressed], [role=tab], [role=switch], " +
    "[popovertarget], [commandfor]";
  const LIKELY =
    "button, [role=button], [onclick], input[type=checkbox], input[type=radio], a:not([href]), " +
    "a[href='#'], a[href='#!'], a[href^='javascript:']";
  const TOGGLES = /^data-(?:[\w-]+-)?(?:toggle|target|trigger|open|menu|modal|tab|collapse)$/;
  const LEFT_OUT = "script, noscript, template";
  const FIELDS = "input, option, textarea, style, link, dialog, [popover]";
  const roots = [document, ...[...known.keys()].map((one) => one.shadowRoot).filter(Boolean)];
  const all = (selector) => roots.flatMap((root) => [...root.querySelectorAll(selector)]);

  // the page as it stood: attributes are those of its copy, what is in it is remembered by node
  const isKept = (node) => node.nodeType === 1 ? !node.matches(LEFT_OUT) : node.nodeType === 3 && !!node.data.trim();
  const inside = (one) => [...one.childNodes].filter(isKept);
  const stood = new Map();
  for (const [one] of known)
    stood.set(one, { nodes: [...one.childNodes], said: inside(one).map((node) => (node.nodeType === 3 ? node.data : node)) });
  const styles = new Map(all("style").map((one) => [one, written(one)]));

  const changedSince = new Set();
  let steps = 0;
  const note = (records) => {
    for (const { target } of records) {
      steps++;
      changedSince.add(target.nodeType === 3 ? target.parentNode : target);
    }
  };
  const watching = new MutationObserver(note);
  for (const root of roots)
    watching.observe(root, { subtree: true, childList: true, attributes: true, characterData: true });

  const isOpenPopover = (one) => {
    try {
      return one.matches(":popover-open");
    } catch {
      return false;
    }
  };
  // scripts leave these behind empty
  const isSaid = ({ name, value }) => !["style", "class"].includes(name) || !!value.trim();
  const attributesOf = (one) => {
    const shallow = one.cloneNode(false);
    holds(one, shallow);
    if (isOpenPopover(one)) shallow.removeAttribute("popover"); // it lies there as any box does
    shallow.removeAttribute("data-gl-at");
    return Object.fromEntries([...shallow.attributes].filter(isSaid).map(({ name, value }) => [name, value]));
  };
  let marks = 0;
  const markOf = (one) => {
    const copy = known.get(one);
    if (!copy.hasAttribute("data-gl-at")) copy.setAttribute("data-gl-at", String(++marks));
    return Number(copy.getAttribute("data-gl-at"));
  };
  let room = 0;
  const asData = (node) => {
    if (--room < 0) throw new Error("too large");
    if (node.nodeType === 3) return node.data;
    if (known.has(node)) return markOf(node);
    const { localName } = node;
    const children = localName === "style" ? [written(node)] : inside(node).map(asData);
    const isForeign = node.namespaceURI !== "http://www.w3.org/1999/xhtml";
    const data = { tag: localName, attributes: attributesOf(node), children };
    return isForeign ? { ...data, foreign: true } : data;
  };
  const saidBefore = (copy, name) => {
    const one = copy.getAttributeNode(name);
    return one && isSaid(one) ? one.value : null;
  };
  const noisy = new Set();
  /** What differs from the page as it stood: [element, names of attributes, whether what is in it], noise aside. */
  const differing = () => {
    note(watching.takeRecords());
    const found = [];
    for (const one of new Set([...changedSince, ...all(FIELDS)])) {
      if (!known.has(one) || !one.isConnected) continue;
      const copy = known.get(one);
      const now = attributesOf(one);
      const names = new Set([...Object.keys(now), ...copy.getAttributeNames()]);
      names.delete("data-gl-at");
      const changed = [...names].filter(
        (name) => (now[name] ?? null) !== saidBefore(copy, name) && !noisy.has(`${markOf(one)} ${name}`),
      );
      const { said } = stood.get(one);
      const isOther =
        one.localName === "style"
          ? written(one) !== styles.get(one)
          : inside(one).length !== said.length ||
            inside(one).some((node, place) => (node.nodeType === 3 ? node.data : node) !== said[place]);
      if (changed.length || (isOther && !noisy.has(`${markOf(one)} `)))
        found.push([one, changed, isOther && !noisy.has(`${markOf(one)} `)]);
    }
    return found;
  };
  const asChanges = (differences) => {
    room = limits.nodes;
    return differences.map(([one, names, isOther]) => {
      const now = attributesOf(one);
      const change = { at: markOf(one) };
      if (names.length) change.attributes = Object.fromEntries(names.map((name) => [name, now[name] ?? null]));
      if (isOther) change.children = one.localName === "style" ? [written(one)] : inside(one).map(asData);
      return change;
    });
  };
  const putBack = (differences) => {
    for (const [one, names, isOther] of differences) {
      const copy = known.get(one);
      if (one.localName === "dialog" && one.open && !copy.hasAttribute("open")) one.close();
      if (isOpenPopover(one)) one.hidePopover();
      for (const name of names) {
        const value = copy.getAttribute(name);
        if (name === "checked" && one.localName === "input") one.checked = value !== null;
        else if (name === "selected" && one.localName === "option") one.selected = value !== null;
        else if (name === "value" && "value" in one) one.value = value ?? "";
        else if (value === null) one.removeAttribute(name);
        else one.setAttribute(name, value);
      }
      if (isOther && one.localName !== "style") one.replaceChildren(...stood.get(one).nodes);
    }
  };

  const settled = async () => {
    const before = steps;
    await wait(limits.moment);
    await painted(150);
    note(watching.takeRecords());
    if (steps === before && !all("input, option").some((one) => known.has(one) && isTurned(one))) return;
    await quiet(40, limits.opens);
    if (!settle()) return;
    await quiet(40, limits.opens);
    settle();
  };
  const isTurned = (one) =>
    one.localName === "option"
      ? one.selected !== known.get(one).hasAttribute("selected") && one.defaultSelected !== one.selected
      : ["checkbox", "radio"].includes(one.type) && one.checked !== known.get(one).hasAttribute("checked");
  const press = async (one) => {
    const event = (Kind, name) =>
      one.dispatchEvent(new Kind(name, { bubbles: true, cancelable: true, composed: true, button: 0, pointerType: "mouse" }));
    event(PointerEvent, "pointerdown");
    event(MouseEvent, "mousedown");
    event(PointerEvent, "pointerup");
    event(MouseEvent, "mouseup");
    if (typeof one.click === "function") one.click();
    else event(MouseEvent, "click");
    await settled();
  };
  const shut = async (one) => {
    const list = one.closest("[role=tablist]");
    const first = list && [...list.querySelectorAll("[role=tab]")].find(
      (tab) => known.get(tab)?.getAttribute("aria-selected") === "true",
    );
    await press(first ?? one);
    if (!differing().length) return;
    for (const kind of ["keydown", "keyup"])
      (document.activeElement ?? document.body).dispatchEvent(
        new KeyboardEvent(kind, { key: "Escape", code: "Escape", bubbles: true, composed: true, cancelable: true }),
      );
    await settled();
    for (let tries = 0; tries < 2 && differing().length; tries++) {
      putBack(differing());
      await wait(30);
    }
  };

  const leaves = (event) => {
    const link = event.composedPath().find((one) => one.localName === "a" || one.localName === "area");
    if (link?.hasAttribute("href") && !link.getAttribute("href").startsWith("#")) event.preventDefault();
  };
  const stays = (event) => event.preventDefault();
  const isSure = (one) => one.matches(SURE) || [...one.attributes].some(({ name }) => TOGGLES.test(name));
  const canBePressed = (one) => {
    if (!known.has(one) || one.matches(":disabled") || one.matches("input[type=file]")) return false;
    if (isSure(one)) return !one.matches("form, dialog, body, html, input:not([type=checkbox], [type=radio], [type=button])");
    if (one.matches("button, input") && one.form && one.type === "submit") return false;
    return one.type !== "reset";
  };
  const openers = () => {
    const toggles = all("*").filter((one) => [...one.attributes].some(({ name }) => TOGGLES.test(name)));
    const sure = new Set([...all(SURE), ...toggles].filter(canBePressed));
    const order = [...known.keys()];
    const place = new Map(order.map((one, at) => [one, at]));
    const inOrder = (some) => [...some].sort((a, b) => place.get(a) - place.get(b));
    return [...inOrder(sure), ...inOrder(all(LIKELY).filter((one) => canBePressed(one) && !sure.has(one)))];
  };
  const plain = (text) => (text ?? "").replace(/\s+/g, " ").trim();
  const nameOf = (one) => {
    const by = plain(one.getAttribute("aria-labelledby"))
      .split(" ")
      .map((id) => plain(document.getElementById(id)?.textContent))
      .join(" ");
    const picture = one.querySelector("img[alt], svg title");
    const ident = (one.getAttribute("aria-controls") ?? one.id ?? "")
      .replace(/([a-z])([A-Z])/g, "$1 $2")
      .replace(/[-_]+/g, " ")
      .replace(/\b(toggle|toggler|top|dropdown|btn|button|link|trigger|id|js|nav|navbar)\b/gi, "");
    const around = one.closest("section, article, aside, nav, header, footer, form, dialog, li, td, div:has(h1, h2, h3, h4, h5, h6)");
    const named = [
      one.getAttribute("aria-label"), by, one.innerText || one.textContent, one.title, picture?.alt ?? picture?.textContent,
      one.labels?.[0]?.innerText, one.value === "on" ? "" : one.value, ident,
      around?.querySelector("h1, h2, h3, h4, h5, h6")?.textContent,
    ];
    // a number or a cross says nothing
    const text = named.map(plain).find((words) => /\p{L}{2}/u.test(words)) ?? (one.matches("input") ? "a box" : "a button");
    const words = text.slice(0, 29).replace(/\s\S*$/, "");
    return text.length > 28 ? `${words}…` : text;
  };

  const kept = [];
  const labels = new Map();
  const until = performance.now() + limits.opening;
  const some = openers();
  if (!some.length) return kept;
  addEventListener("click", leaves, true);
  addEventListener("submit", stays, true);
  // what opens slowly opens at once; its script is still told of the end
  const hurry = new CSSStyleSheet();
  hurry.replaceSync(
    `*, ::before, ::after { transition-duration: 1ms !important; transition-delay: 0s !important;
     animation-duration: 1ms !important; animation-delay: 0s !important }`,
  );
  const hurried = roots.map((root) => [root, root.adoptedStyleSheets]);
  for (const [root, sheets] of hurried) root.adoptedStyleSheets = [...sheets, hurry];
  try {
    // what moves by itself is no work of a click
    await wait(limits.drifts);
    for (const [one, names, isOther] of differing()) {
      for (const name of names) noisy.add(`${markOf(one)} ${name}`);
      if (isOther) noisy.add(`${markOf(one)} `);
    }
    let letters = 0;
    for (const [place, one] of some.entries()) {
      if (place >= limits.openers || performance.now() > until || letters > limits.letters) {
        told.push("more");
        break;
      }
      if (!one.isConnected) continue;
      const label = nameOf(one);
      await press(one);
      const differences = differing();
      if (!differences.length) continue;
      const number = (labels.get(label) ?? 0) + 1;
      const name = number > 1 ? `${label} ${number}` : label;
      try {
        const changes = asChanges(differences);
        letters += JSON.stringify(changes).length;
        if (letters <= limits.letters) {
          labels.set(label, number);
          kept.push({ label: name, by: markOf(one), changes });
        }
      } catch {
        told.push("more"); // it opens more than is read
      }
      await shut(one);
    }
  } finally {
    watching.disconnect();
    for (const [root, sheets] of hurried) root.adoptedStyleSheets = sheets;
    removeEventListener("click", leaves, true);
    removeEventListener("submit", stays, true);
    scrollTo({ top: 0, behavior: "instant" });
  }
  return kept;
})
