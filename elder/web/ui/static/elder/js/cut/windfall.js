// The answer follows what is said to be in the hand.
document.addEventListener("alpine:init", function () {
  window.Alpine.data("hand", function () {
    return window.elderAsking(function (component) {
      return { body: new FormData(component.$root), targets: ["hand-answer"] };
    });
  });
});

// What is struck is called as it is typed now: the name may have been typed a moment ago, and the answer that stands
// here was asked before it.
document.addEventListener("submit", function (event) {
  const hand = document.getElementById("hand-form");
  if (!hand || !event.target.closest("#hand-answer")) return;
  [
    ["stock_plant", "mother"],
    ["variety", "variety"],
  ].forEach(function (pair) {
    const held = event.target.elements[pair[0]],
      typed = hand.elements[pair[1]];
    if (held && typed) held.value = typed.value;
  });
});
