// Minus and plus beside a number. The number alone works without this.
document.addEventListener("click", function (event) {
  const button = event.target.closest("[data-step]");
  if (!button) return;
  const input = button.closest("[data-stepper]").querySelector("input");
  const bound = function (name, fallback) {
    return input[name] === "" ? fallback : Number(input[name]);
  };
  const next = (Number(input.value) || 0) + Number(button.dataset.step);
  input.value = Math.min(Math.max(next, bound("min", 0)), bound("max", 9999));
  input.dispatchEvent(new Event("input", { bubbles: true }));
});

document.addEventListener("click", function (event) {
  if (event.target.closest("[data-print]")) window.print();
  if (event.target.closest("[data-history-back]")) {
    event.preventDefault();
    history.back();
  }
});
