// The two dials over the season: move one and the board is reckoned for it, without anything being kept.
// One question is under way at a time; the newest is asked next.
document.addEventListener("alpine:init", function () {
  window.Alpine.data("whatIf", function () {
    return {
      busy: false,
      again: false,

      async ask() {
        if (this.busy) { this.again = true; return; }
        this.busy = true;
        const body = new FormData(this.$root);
        // A dial left where it was asks nothing, so that each want keeps its own.
        this.$root.querySelectorAll("[data-was]").forEach(function (dial) {
          if (dial.value === dial.dataset.was) body.delete(dial.name);
        });
        const targets = ["season-live", "risk-words", "sure-words"];
        try {
          await this.$ajax(this.$root.dataset.url, { method: "get", body: body, targets: targets, focus: false });
        } finally {
          this.busy = false;
        }
        if (this.again) { this.again = false; this.ask(); }
      },
    };
  });
});
