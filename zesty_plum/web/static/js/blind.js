// The blind round by keyboard: left, right, down for neither, backspace for the question before.
const form = document.getElementById("blind");
const keys = { ArrowLeft: "left", ArrowRight: "right", ArrowDown: "neither", Backspace: "back" };
let sent = false;
form.addEventListener("submit", (event) => {
  if (sent) event.preventDefault(); // a key held down answers one question, not five
  sent = true;
});
document.addEventListener("keydown", (event) => {
  const button = keys[event.key] && form.querySelector(`button[value="${keys[event.key]}"]`);
  if (!button || event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  button.click();
});
