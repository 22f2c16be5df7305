// The one script that runs in a preview. It paints what the bench says and tells when it has.
(() => {
  const root = document.documentElement;
  const paint = (values) => {
    for (const [name, value] of Object.entries(values))
      if (value === null) root.style.removeProperty(name);
      else root.style.setProperty(name, value);
  };
  const done = (number) =>
    requestAnimationFrame(() => requestAnimationFrame(() => parent.postMessage({ glaucon: "painted", number }, "*")));
  addEventListener("message", (event) => {
    if (event.source !== parent || !event.data || event.data.glaucon !== "wear") return;
    const { values, state, number } = event.data;
    if (values) paint(values);
    if (state !== undefined) state ? root.setAttribute("data-gl-state", state) : root.removeAttribute("data-gl-state");
    done(number);
  });
  document.addEventListener("submit", (event) => event.preventDefault(), true);
  document.addEventListener("click", (event) => event.preventDefault(), true);
  addEventListener("DOMContentLoaded", () => parent.postMessage({ glaucon: "ready" }, "*"));
})();
