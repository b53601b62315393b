// A new garden most likely lies where its gardener's device is.
(function () {
  const field = document.querySelector("[data-own-timezone] input[name=timezone]");
  if (field && field.value === "UTC") field.value = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";
})();
