// The marble run in a browser: the page draws, reports what happens, and Kiai decides and plays.
import {Kiai} from "./kiai.js";

const bench = document.getElementById("bench");
const kiai = await Kiai.open("marble-run.kiai");
document.getElementById("state").textContent = "Press the hopper, hold the lift, or press keys.";

let stock = 7; // marbles in the hopper
kiai.setDial("hopper-stock", stock);

function place(event) {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(bench.getScreenCTM().inverse());
  return [point.x, point.y];
}

bench.addEventListener("pointerdown", (event) => {
  const [x, y] = place(event);
  kiai.press(x, y, event.pointerId);
  if (Math.hypot(x - 120, y - 80) <= 40 && stock > 0) drop();
});
bench.addEventListener("pointermove", (event) => kiai.pointer(...place(event), event.pointerId));
for (const name of ["pointerup", "pointercancel"]) window.addEventListener(name, (event) => kiai.release(event.pointerId));
document.addEventListener("keydown", (event) => {
  if (event.code === "Space") event.preventDefault(); // it would scroll the page
  if (!event.repeat) kiai.keyDown(event.code);
});
document.addEventListener("keyup", (event) => kiai.keyUp(event.code));
document.getElementById("fill").addEventListener("input", (event) => kiai.setDial("fill", event.target.valueAsNumber));

/** A marble rolls down the chute, falls into the tray, and touches it. */
function drop() {
  kiai.setDial("hopper-stock", --stock);
  const marble = document.createElementNS("http://www.w3.org/2000/svg", "circle");
  marble.setAttribute("class", "marble");
  marble.setAttribute("r", 9);
  bench.append(marble);
  const began = performance.now();
  requestAnimationFrame(function step(now) {
    const seconds = (now - began) / 1000, rolled = Math.min(1, seconds), fallen = Math.max(0, seconds - 1);
    const x = 140 + 245 * rolled, y = 110 + 125 * rolled + 700 * fallen * fallen;
    marble.setAttribute("cx", x);
    marble.setAttribute("cy", Math.min(y, 511));
    if (y < 511) return requestAnimationFrame(step);
    kiai.contact("marble", "oak", 0.8, (x - 360) / 300);
  });
}

kiai.onEvent = ({decisions}) => {
  for (const decision of decisions) {
    const line = document.createElement("li");
    line.textContent = `${(decision.frame / kiai.context.sampleRate).toFixed(2)} s  ${decision.text}`;
    document.getElementById("decisions").prepend(line);
  }
};
window.kiai = kiai; // for the console
