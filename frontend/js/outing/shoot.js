// A shoot's form says what it would need while it is filled in.
import { post } from "../frame/page.js";

const SOON = 120; // milliseconds of rest after which it is asked
const read = ({ printed, warnings, apart }) =>
  [...[printed, ...warnings].map((words) => `${words}.`), apart].filter(Boolean).join(" ");

let asked = 0;
export default (url) => ({
  said: "",
  soon: 0,
  follow() {
    clearTimeout(this.soon);
    this.soon = setTimeout(() => this.ask(), SOON);
  },
  async ask() {
    const mine = (asked += 1);
    const told = await post(url, new FormData(this.$root)).then(read, (error) => error.message);
    if (mine === asked) this.said = told;
  },
});
