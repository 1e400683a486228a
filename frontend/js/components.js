// Every Alpine component of the product, by the name that templates call it; each is a file under
// the room that it serves.
import bench from "./bench/bench.js";
import everywhere from "./bench/everywhere.js";
import gauges from "./bench/gauges.js";
import line from "./bench/line.js";
import mount from "./bench/mount.js";
import ownPicture from "./bench/own.js";
import patches from "./bench/patches.js";
import saving from "./bench/saving.js";
import scenes from "./bench/scenes.js";
import strip from "./bench/strip.js";
import trail from "./bench/trail.js";
import verdicts from "./bench/verdicts.js";
import mark from "./drill/mark.js";
import question from "./drill/question.js";
import turns from "./drill/turns.js";
import dropZone from "./frame/drop.js";
import finder from "./frame/finder.js";
import frame from "./frame/frame.js";
import menu from "./frame/menu.js";
import ticks from "./frame/ticks.js";
import toasts from "./frame/toasts.js";
import told from "./frame/told.js";
import pointing from "./kit/pointing.js";
import slots from "./kit/slots.js";
import day from "./outing/day.js";
import known from "./outing/known.js";
import shoot from "./outing/shoot.js";
import sum from "./reckoner/sum.js";
import library from "./slips/library.js";
import protocol from "./slips/protocol.js";
import slip from "./slips/slip.js";
import blind from "./wall/blind.js";
import prints from "./wall/prints.js";

export const COMPONENTS = {
  ...{ bench, everywhere, gauges, line, mount, ownPicture, patches, saving, scenes, strip, trail },
  ...{ verdicts, mark, question, turns, dropZone, finder, frame, menu, ticks, toasts, told },
  ...{ pointing, slots, day, known, shoot, sum, library, protocol, slip, blind, prints },
};
