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
    // The nodes as the field has them, which is ahead of the drawing while an answer is on its way; a bare number is
    // how many, evenly spaced, and then the drawing knows where.
    const there = function (stem, field) {
      const typed = field.value
        .replace(/cm|in/g, " ")
        .split(/[ ;,]+/)
        .filter(Boolean);
      const places =
        typed.length > 1 || /cm|in/.test(field.value) ? typed : stem.dataset.positions.split(" ").filter(Boolean);
      return places.map(Number);
    };
    const nodes = function (stem, field, at, step) {
      const known = there(stem, field);
      const reach = Math.max(step, Number(stem.dataset.scale) * 0.015);
      const near = known.filter(function (one) {
        return Math.abs(one - at) <= reach;
      });
      const kept = near.length
        ? known.filter(function (one) {
            return !near.includes(one);
          })
        : known.concat(at);
      kept.sort(function (a, b) {
        return a - b;
      });
      if (kept.length === 1) return kept[0] + " " + field.form.dataset.unit;
      return kept.join(" ") || "0";
    };
    // A drawing may be swapped for the next between press and release: what lies there now is what was meant.
    const stemUnder = function (event) {
      const pressed = event.target.closest("[data-stem-tap]");
      if (pressed && pressed.isConnected) return pressed;
      const now = document.elementFromPoint(event.clientX, event.clientY);
      return now && now.closest("[data-stem-tap]");
    };

    // What a tap is to do changes nothing by itself.
    asking.changed = function (event) {
      if (event.target.name !== "tap") this.ask();
    };
    asking.tap = function (event) {
      const stem = stemUnder(event);
      if (!stem) return;
      const root = this.$root,
        step = Number(root.dataset.nearest),
        at = place(stem, event, step);
      const index = stem.dataset.stemTap;
      if (root.querySelector('[name="tap"]:checked').value === "node") {
        const field = root.querySelector("#nodes-" + index);
        field.value = nodes(stem, field, at, step);
      } else if (begun && begun.index === index) {
        const field = root.querySelector("#bad-" + index);
        const ends = [begun.at, at].sort(function (a, b) {
          return a - b;
        });
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
