// A mix and a container are worked out as they are described.
document.addEventListener("alpine:init", function () {
  const asks = function (name, target) {
    window.Alpine.data(name, function () {
      return window.elderAsking(function (component) {
        const body = new FormData(component.$root);
        body.delete("csrfmiddlewaretoken");
        return { body: body, targets: [target] };
      });
    });
  };
  asks("mixing", "mix-answer");
  asks("containing", "container-answer");
  asks("floor", "floor-answer");
  asks("multiplying", "line-answer");
  asks("wintering", "winter-many");
  asks("promising", "promise-answer");
  asks("gardening", "garden-answer");
  asks("wishing", "first-answers");
  asks("finding", "find-answer");
  asks("shooting", "shoots-answer");
});
