// The one script that runs in a preview. It paints what the bench says and tells when it has.
(() => {
  const root = document.documentElement;
  const tell = (what, more) => parent.postMessage({ glaucon: what, ...more }, "*");
  const paint = (values) => {
    for (const [name, value] of Object.entries(values))
      if (value === null) root.style.removeProperty(name);
      else root.style.setProperty(name, value);
  };
  const shown = (number) => requestAnimationFrame(() => requestAnimationFrame(() => tell("painted", { number })));
  const told = {
    wear({ values, state, number }) {
      if (values) paint(values);
      if (state !== undefined) state ? root.setAttribute("data-gl-state", state) : root.removeAttribute("data-gl-state");
      shown(number);
    },
    scroll: ({ top }) => scrollTo({ top, behavior: "instant" }),
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
