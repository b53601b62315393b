// The layout: it follows what is typed, and a tap on the drawn stem sets or clears a node, or marks both ends of what
// cannot be used. Everything a tap does can be typed.
document.addEventListener("alpine:init", function () {
  const PAD = 0.03; // as in the drawing

  window.Alpine.data("layout", function () {
    const asking = window.elderAsking(function (component) {
      return { body: new FormData(component.$root), targets: ["layout-answer"] };
    });
    let begun = null;

    const place = function (stem, event, step) {
      const box = stem.getBoundingClientRect();
      const share = ((event.clientX - box.left) / box.width - PAD) / (1 - 2 * PAD);
      const at = Math.round((share * Number(stem.dataset.scale)) / step) * step;
      return Math.min(Math.max(at, 0), Number(stem.dataset.end));
    };
    const nodes = function (stem, at, step) {
      const there = stem.dataset.positions.split(" ").filter(Boolean).map(Number);
      const reach = Math.max(step, Number(stem.dataset.scale) * 0.015);
      const near = there.filter(function (one) { return Math.abs(one - at) <= reach; });
      const kept = near.length ? there.filter(function (one) { return !near.includes(one); }) : there.concat(at);
      return kept.sort(function (a, b) { return a - b; }).join(" ");
    };

    asking.tap = function (event) {
      const stem = event.target.closest("[data-stem-tap]");
      if (!stem) return;
      const root = this.$root, step = Number(root.dataset.step), at = place(stem, event, step);
      const index = stem.dataset.stemTap;
      if (root.querySelector('[name="tap"]:checked').value === "node") {
        root.querySelector("#nodes-" + index).value = nodes(stem, at, step);
      } else if (begun && begun.index === index) {
        const field = root.querySelector("#bad-" + index);
        const ends = [begun.at, at].sort(function (a, b) { return a - b; });
        field.value = (field.value.trim() ? field.value.trim() + ", " : "") + ends.join("-");
        begun = null;
      } else {
        begun = { index: index, at: at };
        stem.dataset.begun = String(at);
        return;
      }
      this.ask();
    };
    return asking;
  });
});
