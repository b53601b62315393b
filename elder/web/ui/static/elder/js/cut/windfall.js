// The answer follows what is said to be in the hand.
document.addEventListener("alpine:init", function () {
  window.Alpine.data("hand", function () {
    return window.elderAsking(function (component) {
      return { body: new FormData(component.$root), targets: ["hand-answer"] };
    });
  });
});
