// The answer follows what is said to be in the hand. One question at a time; the newest is asked next.
document.addEventListener("alpine:init", function () {
  window.Alpine.data("hand", function () {
    return {
      busy: false,
      again: false,

      async ask() {
        if (this.busy) { this.again = true; return; }
        this.busy = true;
        try {
          await this.$ajax(this.$root.dataset.url, { method: "get", body: new FormData(this.$root), targets: ["hand-answer"], focus: false });
        } finally {
          this.busy = false;
        }
        if (this.again) { this.again = false; this.ask(); }
      },
    };
  });
});
