// One question to the server at a time: while one is under way the newest change waits and is asked next, so
// that a drag or quick typing never queues up. `question` says, of the component, what to send and what to swap.
// Where no answer comes, what stands there is said to answer an earlier question, and it is asked again.
window.elderAsking = function (question) {
  const AGAIN_MS = 3000;
  const EARLIER = " What stands here answers an earlier question.";

  const sayAway = function (targets, why) {
    const shown = document.getElementById(targets[0]);
    if (!shown || shown.querySelector(".answer-away")) return;
    const said = document.createElement("p");
    said.className = "answer-away";
    said.textContent = why + EARLIER;
    shown.prepend(said);
  };

  return {
    busy: false,
    again: false,
    missed: 0,
    listens: false,
    astray: false,
    sent: false,

    // A page without an answer (signed out meanwhile, or something broke) changes nothing here; keeping it will tell.
    listen() {
      const component = this;
      this.$root.addEventListener("ajax:missing", function (event) {
        event.preventDefault();
        event.detail.target.removeAttribute("aria-busy");
        component.astray = true;
      });
      // What is sent is answered by the page that comes: a question asked meanwhile is about what is done already.
      this.$root.addEventListener("submit", function (event) {
        component.sent = true;
        setTimeout(function () {
          component.sent = !event.defaultPrevented;
        });
      });
      window.addEventListener("pageshow", function () {
        component.sent = false;
      });
    },

    async ask() {
      if (this.sent) return;
      if (this.busy) {
        this.again = true;
        return;
      }
      this.busy = true;
      if (!this.listens) this.listen();
      this.listens = true;
      const asked = question(this);
      // The same address is not asked twice once it has failed: the failure would be remembered with it.
      if (this.missed) asked.body.set("missed", this.missed);
      let came = false;
      try {
        await this.$ajax(this.$root.dataset.url, {
          method: "get",
          body: asked.body,
          targets: asked.targets,
          focus: false,
        });
        came = true;
      } catch {
        this.missed += 1;
        sayAway(asked.targets, "Elder cannot be reached.");
      }
      if (this.astray) sayAway(asked.targets, "No answer came.");
      this.astray = false;
      this.busy = false;
      if (came && asked.after) asked.after();
      if (this.again) {
        this.again = false;
        this.ask();
      } else if (!came) {
        const component = this;
        setTimeout(function () {
          if (!component.busy && component.$root.isConnected) component.ask();
        }, AGAIN_MS);
      }
    },
  };
};
