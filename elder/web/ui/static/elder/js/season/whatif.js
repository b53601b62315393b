// The two dials over the season: move one and the board is reckoned for it, without anything being kept.
document.addEventListener("alpine:init", function () {
  window.Alpine.data("whatIf", function () {
    return window.elderAsking(function (component) {
      const body = new FormData(component.$root);
      // A dial left where it was asks nothing, so that each want keeps its own.
      component.$root.querySelectorAll("[data-was]").forEach(function (dial) {
        if (dial.value === dial.dataset.was) body.delete(dial.name);
      });
      return { body: body, targets: ["season-live", "risk-words", "sure-words"] };
    });
  });
});
