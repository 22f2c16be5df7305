// Runs ahead of a page's own scripts: what an origin of nobody's lacks is there, and what stands is told when asked.
(() => {
  document.currentScript.remove();
  const tell = parent.postMessage.bind(parent);
  const memory = () => {
    const kept = new Map();
    const own = {
      getItem: (name) => kept.get(String(name)) ?? null,
      setItem: (name, value) => void kept.set(String(name), String(value)),
      removeItem: (name) => void kept.delete(String(name)),
      clear: () => kept.clear(),
      key: (place) => [...kept.keys()][place] ?? null,
    };
    return new Proxy(own, {
      get: (_, name) =>
        name === "length"
          ? kept.size
          : (own[name] ?? kept.get(String(name)) ?? undefined),
      set: (_, name, value) => {
        kept.set(String(name), String(value));
        return true;
      },
      deleteProperty: (_, name) => {
        kept.delete(String(name));
        return true;
      },
      has: (_, name) => kept.has(String(name)),
      ownKeys: () => [...kept.keys()],
      getOwnPropertyDescriptor: (_, name) =>
        kept.has(String(name))
          ? {
              value: kept.get(String(name)),
              enumerable: true,
              configurable: true,
              writable: true,
            }
          : undefined,
    });
  };
  for (const name of ["localStorage", "sessionStorage"])
    Object.defineProperty(window, name, { value: memory() });
  let jar = "";
  Object.defineProperty(document, "cookie", {
    get: () => jar,
    set: (one) => {
      jar = String(one).split(";")[0];
    },
  });
  // a page of no origin may not change what its address is called; its scripts think that it did
  for (const name of ["pushState", "replaceState"]) {
    const before = history[name].bind(history);
    history[name] = (state, title) => before(state, title);
  }
  addEventListener("message", async (event) => {
    if (event.source !== parent || event.data?.glaucon !== "stand") return;
    const { nonce, limits } = event.data;
    // told as it stands first: what a click does may end all
    let early = null;
    const stands = (stood) => {
      early = stood;
      tell({ glaucon: "stood", nonce, stood, isEarly: true }, "*");
    };
    const stood = await /* stood */ null(limits, stands).catch(() => early);
    tell({ glaucon: "stood", nonce, stood }, "*");
  });
})();
