// A place's sky: every change is worked out at once, and the skyline is tapped or drawn over the sun's paths.
document.addEventListener("alpine:init", function () {
  const STEP = 15;

  window.Alpine.data("sky", function () {
    const asking = window.elderAsking(function (component) {
      const body = new FormData(component.$root);
      body.delete("csrfmiddlewaretoken");
      return { body: body, targets: ["sky-answer"] };
    });
    asking.said = "";
    asking.drawing = false;
    Object.defineProperty(asking, "isMeasured", {
      get: function () {
        return this.said === "measured";
      },
    });
    asking.init = function () {
      const component = this;
      const root = this.$root;
      const chooses = root.elements.said;
      this.said = chooses.value;
      chooses.addEventListener("change", function () {
        component.said = chooses.value;
      });
      root.addEventListener("pointerdown", function (event) {
        if (!event.target.closest("[data-sky]")) return;
        component.drawing = true;
        component.mark(event);
      });
      root.addEventListener("pointermove", function (event) {
        if (component.drawing && event.buttons) component.mark(event);
      });
      // Worked out when the finger is lifted: an answer under way would take the drawing from under it.
      ["pointerup", "pointercancel"].forEach(function (ends) {
        window.addEventListener(ends, function () {
          if (!component.drawing) return;
          component.drawing = false;
          root.elements.said.dispatchEvent(new Event("input", { bubbles: true }));
        });
      });
    };
    // What is being drawn, until the answer redraws it.
    asking.follow = function (view, box, x, y) {
      let line = view.querySelector(".sky-drawn polyline");
      if (!line) {
        const name = "http://www.w3.org/2000/svg";
        const sheet = document.createElementNS(name, "svg");
        sheet.setAttribute("class", "sky-drawn");
        line = document.createElementNS(name, "polyline");
        line.setAttribute("points", "");
        sheet.append(line);
        view.append(sheet);
      }
      line.setAttribute("points", line.getAttribute("points") + " " + Math.round(x) + "," + Math.round(y));
    };
    // The height that was tapped goes to the nearest direction of the table.
    asking.mark = function (event) {
      const view = event.target.closest("[data-sky]");
      if (!view) return;
      const box = view.getBoundingClientRect();
      const foot = box.height * (270 / 300);
      const share = (event.clientX - box.left) / box.width;
      const azimuth = (Number(view.dataset.left) + share * Number(view.dataset.span)) % 360;
      const height = ((foot - (event.clientY - box.top)) / foot) * Number(view.dataset.top);
      const nearest = (Math.round(azimuth / STEP) * STEP) % 360;
      const field = this.$root.elements["s" + nearest];
      if (!field) return;
      field.value = Math.max(0, Math.min(85, Math.round(height)));
      this.follow(view, box, event.clientX - box.left, event.clientY - box.top);
      event.preventDefault();
    };
    return asking;
  });
});
