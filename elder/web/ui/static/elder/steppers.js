// Minus and plus beside a number. The number alone works without this.
document.addEventListener("click", function (event) {
  const button = event.target.closest("[data-step]");
  if (!button) return;
  const input = button.closest("[data-stepper]").querySelector("input");
  const bound = function (name, fallback) { return input[name] === "" ? fallback : Number(input[name]); };
  const next = (Number(input.value) || 0) + Number(button.dataset.step);
  input.value = Math.min(Math.max(next, bound("min", 0)), bound("max", 9999));
  input.dispatchEvent(new Event("input", { bubbles: true }));
});

// A look's button says what it will write down.
document.addEventListener("input", function (event) {
  const form = event.target.closest(".deed-look");
  if (!form) return;
  const count = function (name) { return Number(form.elements[name].value) || 0; };
  const parts = [];
  if (count("rooted")) parts.push(count("rooted") + " rooted");
  if (count("lost")) parts.push(count("lost") + " lost");
  const words = parts.length ? "Write down: " + parts.join(", ") : "As it should be: write the look down";
  form.querySelector("[data-look-button]").textContent = words;
  if (count("lost")) form.querySelector("details").open = true;
});
