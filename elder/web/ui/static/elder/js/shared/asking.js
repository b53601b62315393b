// One question to the server at a time: while one is under way the newest change waits and is asked next, so
// that a drag or quick typing never queues up. `question` says, of the component, what to send and what to swap.
window.elderAsking = function (question) {
  return {
    busy: false,
    again: false,

    async ask() {
      if (this.busy) {
        this.again = true;
        return;
      }
      this.busy = true;
      const asked = question(this);
      try {
        await this.$ajax(this.$root.dataset.url, {
          method: "get",
          body: asked.body,
          targets: asked.targets,
          focus: false,
        });
      } finally {
        this.busy = false;
      }
      if (asked.after) asked.after();
      if (this.again) {
        this.again = false;
        this.ask();
      }
    },
  };
};
