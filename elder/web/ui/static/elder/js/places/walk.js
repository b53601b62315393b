// The order one walks in: a place is dragged by its handle, or moved with the arrow keys while the handle has focus.
document.addEventListener("alpine:init", function () {
  const asks = function (name, target) {
    window.Alpine.data(name, function () {
      return window.elderAsking(function (component) {
        return { body: new FormData(component.$root), targets: [target] };
      });
    });
  };
  asks("ranking", "ranking");
  asks("wall", "wall-answer");

  window.Alpine.data("walk", function () {
    return {
      held: null,

      init() {
        const component = this;
        const root = this.$root;
        root.addEventListener("pointerdown", function (event) {
          const handle = event.target.closest(".walk-handle");
          if (!handle) return;
          component.held = handle.closest("[data-place]");
          component.held.classList.add("shelf-held");
          handle.setPointerCapture(event.pointerId);
        });
        root.addEventListener("pointermove", function (event) {
          if (component.held) component.passOver(event);
        });
        root.addEventListener("pointerup", function () {
          component.letGo();
        });
        root.addEventListener("keydown", function (event) {
          component.step(event);
        });
      },

      passOver(event) {
        const under = document.elementFromPoint(event.clientX, event.clientY);
        const other = under && under.closest("[data-place]");
        if (!other || other === this.held || !this.$root.contains(other)) return;
        const before = this.held.compareDocumentPosition(other) & Node.DOCUMENT_POSITION_PRECEDING;
        if (before) other.before(this.held);
        else other.after(this.held);
      },

      letGo() {
        if (!this.held) return;
        this.held.classList.remove("shelf-held");
        this.held = null;
        this.keep();
      },

      step(event) {
        const handle = event.target.closest(".walk-handle");
        if (!handle) return;
        const shelf = handle.closest("[data-place]");
        const back = event.key === "ArrowUp" || event.key === "ArrowLeft";
        if (!back && event.key !== "ArrowDown" && event.key !== "ArrowRight") return;
        event.preventDefault();
        event.stopPropagation();
        const next = back ? shelf.previousElementSibling : shelf.nextElementSibling;
        if (!next || !next.dataset.place) return;
        if (back) next.before(shelf);
        else next.after(shelf);
        handle.focus();
        this.keep();
      },

      keep() {
        const shelves = Array.from(this.$root.querySelectorAll("[data-place]"));
        const body = new FormData();
        body.append("csrfmiddlewaretoken", this.$root.querySelector("[name=csrfmiddlewaretoken]").value);
        shelves.forEach(function (shelf) {
          body.append("place", shelf.dataset.place);
        });
        const said = document.getElementById("walk-said");
        const tell = function (words) {
          said.textContent = words;
          said.classList.remove("visually-hidden");
        };
        fetch(this.$root.dataset.url, { method: "POST", body: body, headers: { Accept: "application/json" } })
          .then(function (answer) {
            tell(answer.ok ? "The round walks in this order now." : "That was not kept. Load the page again.");
          })
          .catch(function () {
            tell("Elder cannot be reached; the order is not kept.");
          });
      },
    };
  });
});
