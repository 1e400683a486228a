// The slots of a camera: slips are dragged onto them, and arrow keys go from one to another.
import { told } from "../frame/work.js";

const SLIP = "text/x-plum-slip";

// Whether a slip is what is dragged; if so, nothing else of the page takes it.
function ours(event) {
  const mine = event.dataTransfer.types.includes(SLIP);
  if (mine) event.preventDefault();
  if (mine) event.stopPropagation();
  return mine;
}

export default () => ({
  over: "", // the slot that a slip is held over
  lift({ dataTransfer }, slip) {
    dataTransfer.setData(SLIP, slip);
    dataTransfer.effectAllowed = "copy";
  },
  hold(event, slot) {
    if (ours(event)) this.over = slot;
  },
  async put(event, url) {
    if (!ours(event)) return;
    this.over = "";
    const form = new FormData();
    form.set("slip", event.dataTransfer.getData(SLIP));
    const answer = await told(url, "Putting it there", form);
    if (answer) location.assign(answer.to);
  },
  walk(event) {
    const slots = [...this.$root.querySelectorAll("[data-slot] > a")];
    const at = slots.indexOf(document.activeElement);
    const row = slots.filter((slot) => slot.offsetTop === slots[0].offsetTop).length;
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: row, ArrowUp: -row }[event.key];
    if (at < 0 || !step || !slots[at + step]) return;
    event.preventDefault();
    slots[at + step].focus();
  },
});
