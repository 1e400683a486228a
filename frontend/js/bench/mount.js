// The picture on its mount: the spot that is metered, and pulling the part at 100 %.
import { change } from "./changes.js";
import { showOther } from "./picture.js";
import { bench, metersSpot } from "./store.js";

const PUSH = 0.25; // of the frame, by Shift and an arrow key
const NUDGE = 0.03;
const LEAST = 3; // pixels that count as a pull
const inFrame = (value) => Math.min(1, Math.max(0, value)).toFixed(3);
const aims = () => metersSpot() && !bench.state.loupe;
const spot = () => (bench.state.spot || "0.5,0.5").split(",").map(Number);

let pull = null;
export default () => ({
  aims,
  metered: () => aims() && Boolean(bench.state.spot),
  at: ([x, y] = spot()) => ({ left: `${x * 100}%`, top: `${y * 100}%` }),
  uncovered: () => `inset(0 ${bench.held ? 0 : 100 - bench.wiped}% 0 0)`,
  guessed: () => `${Math.max(1, Math.round(100 * bench.facts.guess))} % a guess`,
  wipe({ target }) {
    bench.wiped = Number(target.value);
    showOther();
  },
  // A body that meters a spot looks where the picture is clicked.
  meter({ clientX, clientY }) {
    if (!aims() || bench.state.wipe) return;
    const { left, top, width, height } = this.$refs.frame.getBoundingClientRect();
    const down = inFrame((clientY - top) / height);
    change({ spot: `${inFrame((clientX - left) / width)},${down}` });
  },
  grip({ target, clientX, clientY, pointerId }) {
    if (!bench.state.loupe || !bench.crop || target.matches("input, button")) return;
    pull = { x: clientX, y: clientY };
    this.$refs.frame.setPointerCapture(pointerId);
  },
  letGo({ clientX, clientY }) {
    if (pull) this.move(pull.x - clientX, pull.y - clientY);
    pull = null;
  },
  move(across, down) {
    if (!bench.crop || Math.hypot(across, down) < LEAST) return;
    const [left, top, width, height, columns, rows] = bench.crop;
    const shown = width / this.$refs.frame.clientWidth; // photosites a pixel of the page
    const within = (at, size, most) => Math.min(Math.max(at, size / 2), most - size / 2) / most;
    const x = within(left + width / 2 + across * shown, width, columns);
    const y = within(top + height / 2 + down * shown, height, rows);
    change({ place: `${inFrame(x)},${inFrame(y)}` });
  },
  // By Shift and an arrow key.
  push(event, across, down) {
    if (!bench.state.loupe && !metersSpot()) return;
    event.preventDefault();
    const far = PUSH * this.$refs.frame.clientWidth;
    if (bench.state.loupe) return this.move(across * far, down * far);
    const [x, y] = spot();
    change({ spot: `${inFrame(x + across * NUDGE)},${inFrame(y + down * NUDGE)}` });
  },
});
