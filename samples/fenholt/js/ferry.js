// The menu, the tabs, the lamp, what is asked in a dialog, what comes into sight, and the fares, drawn from data.
for (const button of document.querySelectorAll(".opener"))
  button.addEventListener("click", () => {
    const isOpen = button.getAttribute("aria-expanded") === "true";
    button.setAttribute("aria-expanded", String(!isOpen));
    document.getElementById(button.getAttribute("aria-controls")).hidden = isOpen;
  });

for (const tab of document.querySelectorAll("[role=tab]"))
  tab.addEventListener("click", () => {
    for (const one of tab.parentElement.querySelectorAll("[role=tab]")) {
      one.setAttribute("aria-selected", String(one === tab));
      document.getElementById(one.getAttribute("aria-controls")).hidden = one !== tab;
    }
  });

for (const lamp of document.querySelectorAll(".lamp"))
  lamp.addEventListener("click", () => {
    const isNight = document.documentElement.classList.toggle("night");
    lamp.setAttribute("aria-pressed", String(isNight));
  });

for (const one of document.querySelectorAll("[data-opens]"))
  one.addEventListener("click", () => document.getElementById(one.dataset.opens).showModal());

const coming = new IntersectionObserver((seen) => {
  for (const one of seen) if (one.isIntersecting) one.target.classList.add("here");
});
for (const one of document.querySelectorAll(".comes")) coming.observe(one);

const fares = document.getElementById("fares");
if (fares) {
  const rows = JSON.parse(fares.dataset.fares).map(([who, fare]) => `<tr><th>${who}</th><td class="fare">${fare}</td></tr>`);
  fares.innerHTML = `<table>${rows.join("")}</table>`;
}
document.getElementById("tide").textContent = "High water twice a day, whoever is waiting.";
