// The answer follows the want sheet and the cut day: it asks the server and swaps words and drawings.
document.addEventListener("alpine:init", function () {
  const TARGETS = ["answer-words", "row-picture", "curve-picture", "answer-reasons"];
  const DAY = 86400000;

  const offset = function (start, day) {
    return Math.round((Date.parse(day) - Date.parse(start)) / DAY);
  };
  const dayAt = function (start, days) {
    return new Date(Date.parse(start) + days * DAY).toISOString().slice(0, 10);
  };

  window.Alpine.data("answer", function () {
    const asking = window.elderAsking(function (component) {
      const body = new FormData(component.form);
      body.delete("csrfmiddlewaretoken");
      const also = component.$root.dataset.also;
      // The places are drawn anew with another plant alone: a hand may stand on them.
      const more = also ? [also].concat(component.another ? ["place-fields"] : []) : [];
      component.another = false;
      return {
        body: body,
        targets: TARGETS.concat(more),
        after: function () {
          component.sync();
        },
      };
    });
    return Object.assign(asking, {
      form: null,
      another: false,

      init() {
        this.form = document.getElementById(this.$root.dataset.form);
        const self = this;
        if (this.form) {
          this.form.addEventListener("input", function (event) {
            // Any change but of the day itself goes back to the recommended day.
            if (event.target.name !== "cut_on" && self.form.id === "want-form") self.form.elements.cut_on.value = "";
            if (event.target.name === "plant") self.another = true;
            self.ask();
          });
        }
        this.sync();
      },

      // The sliders take their range and place from the drawings they lie over.
      sync() {
        const row = document.getElementById("row-picture").dataset;
        const curve = document.getElementById("curve-picture").dataset;
        const shown = Boolean(row.day && curve.start && this.form && !this.form.hidden);
        // While a newer day is still to be asked for, the hand is further than the answer: leave it there.
        const day = (this.again && this.form.elements.cut_on.value) || row.day;
        this.place(this.$refs.row, row, day, row.words, shown);
        this.place(this.$refs.curve, curve, day, row.words, shown);
        if (shown && !this.again && this.form.id === "cut-form") this.form.elements.cut_on.value = row.day;
      },

      place(slider, axis, day, words, shown) {
        slider.hidden = !shown;
        if (!shown) return;
        slider.max = axis.days;
        slider.dataset.start = axis.start;
        slider.value = offset(axis.start, day);
        slider.setAttribute("aria-valuetext", words);
      },

      slide(event) {
        const slider = event.target;
        const field = this.form.elements.cut_on;
        field.value = dayAt(slider.dataset.start, Number(slider.value));
        this.ask();
      },
    });
  });
});
