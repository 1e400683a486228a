// The blind round by keyboard: left, right, down for neither, backspace for the question before.
import { isModified } from "../frame/page.js";

export default () => ({
  sent: false,
  // A key held down answers one question, not five.
  once(event) {
    if (this.sent) event.preventDefault();
    this.sent = true;
  },
  press(event, choice) {
    const button = this.$root.querySelector(`button[value="${choice}"]`);
    if (!button || event.repeat || isModified(event)) return;
    event.preventDefault();
    button.click();
  },
});
