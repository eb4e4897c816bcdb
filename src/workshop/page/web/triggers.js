// Everything that can be made to happen by hand: bindings, dials, scopes, motions.

const triggers = {rows: new Map(), left: new Map(), dials: new Map(), scopes: new Map(), held: new Set()};

function entryOf(number) {
  return project.entries.find((entry) => entry.kind === "binding" && entry.details.binding === number);
}

/// A button that makes a binding happen for as long as it is held, by pointer or by key.
function trigger(binding, values) {
  let down = false;
  const start = () => {
    if (down) return;
    down = true;
    button.classList.add("held");
    const more = Object.entries(values()).map(([name, value]) => `&${name}=${encodeURIComponent(value)}`).join("");
    triggers.held.add(stop);
    inOrder(`fire?binding=${binding.number}${more}`);
  };
  const stop = () => {
    if (!down) return;
    down = false;
    button.classList.remove("held");
    triggers.held.delete(stop);
    inOrder(`fire?binding=${binding.number}&end=1`);
  };
  const button = make("button", {
    type: "button", disabled: !project.reports || !binding.by_hand, "data-binding": binding.number,
    title: !binding.by_hand ? "happens by itself" : binding.holds ? "hold to let it last" : "make it happen",
    pointerdown: (event) => { button.setPointerCapture(event.pointerId); start(); },
    pointerup: stop, pointercancel: stop, blur: stop,
    keydown: (event) => { if ((event.code === "Space" || event.code === "Enter") && !event.repeat) { event.preventDefault(); start(); } },
    keyup: (event) => { if (event.code === "Space" || event.code === "Enter") stop(); },
  }, binding.trigger);
  return button;
}

/// The numbers that come with a trigger.
function numbersOf(binding) {
  const number = (name, key, value, more = {}) =>
    ({name, key, input: make("input", {type: "number", step: "any", value, "aria-label": `${name} of ${binding.trigger}`, ...more})});
  if (binding.kind === "contact")
    return [number("strength", "strength", 1, {min: 0, max: 10}), number("place", "place", 0, {min: -1, max: 1})];
  return binding.values.map((name) => number(name, `value-${name}`, ""));
}

function bindingRow(binding) {
  const entry = entryOf(binding.number);
  if (inside) {
    const row = make("tr", {}, cell(binding.trigger), make("td", {}, entry?.details.action ?? "",
      entry?.details.when ? make("span", {class: "hint"}, ` if ${entry.details.when}`) : ""));
    triggers.rows.set(binding.number, row);
    return row;
  }
  const inputs = numbersOf(binding), left = make("span", {class: "hint"});
  const values = () => Object.fromEntries(inputs.filter(({input}) => input.value !== "").map(({key, input}) => [key, input.value]));
  triggers.left.set(binding.number, left);
  const details = entry?.details ?? {};
  const why = make("button", {type: "button", class: "quiet", click: () => showWhy(binding.trigger)}, "why");
  const row = make("tr", {}, make("td", {}, trigger(binding, values), left),
    make("td", {}, details.action ?? "", details.when ? make("span", {class: "hint"}, ` if ${details.when}`) : "",
      ...inputs.map(({name, input}) => [" ", make("label", {class: "hint"}, `${name} `, input)]).flat()), cell(why));
  if (edit.on)
    row.lastElementChild.append(" ", make("button", {type: "button", class: "quiet", "aria-label": `remove binding ${binding.number}`,
      click: () => change("unbind", {}, String(binding.number))}, "remove"));
  triggers.rows.set(binding.number, row);
  return row;
}

function dialRow(dial) {
  const step = (dial.high - dial.low) / 200;
  const slider = make("input", {type: "range", min: dial.low, max: dial.high, step, value: dial.start, disabled: !project.reports,
    "aria-label": `dial ${dial.name}`, input: () => report({dial: {[dial.name]: Number(slider.value)}})});
  const number = make("span", {});
  triggers.dials.set(dial.name, {slider, number});
  return make("tr", {}, cell(dial.name), cell(slider), cell(number, true));
}

function scopeRow(scope) {
  const enter = make("button", {type: "button", disabled: !project.reports, click: () =>
    report({[state.scopes[scope.name] === "off" ? "scope-enter" : "scope-leave"]: scope.name})}, "enter");
  const pause = make("button", {type: "button", disabled: !project.reports, click: () =>
    report({[state.scopes[scope.name] === "paused" ? "scope-resume" : "scope-pause"]: scope.name})}, "pause");
  const now = make("span", {});
  triggers.scopes.set(scope.name, {enter, pause, now});
  return make("tr", {}, cell(scope.name), cell(now), make("td", {}, enter, " ", pause));
}

/// Places a marker where it was tapped, at the median of all taps.
function tapParts(motion, slider) {
  const taps = [], said = make("span", {class: "hint"});
  const name = make("input", {type: "text", size: 7, placeholder: "marker", "aria-label": `marker of ${motion.name}`});
  const median = () => [...taps].sort((a, b) => a - b)[Math.floor(taps.length / 2)];
  const tap = make("button", {type: "button", click: () => {
    taps.push(Math.round(Number(slider.value)));
    said.textContent = ` ${taps.length} taps, median ${median()}`;
  }}, "tap");
  const place = make("button", {type: "button", click: () => {
    if (taps.length === 0 || name.value.trim() === "") return trouble("name the marker, and tap at least once");
    setValue(["motion", motion.name, "markers", name.value.trim()], String(median()));
  }}, "place");
  return [" ", tap, " ", name, " ", place, said];
}

function motionRow(motion) {
  const markers = motion.markers.map((marker) => `${marker.name} ${marker.frames.join(", ")}`).join("; ");
  const playhead = {running: false};
  const slider = make("input", {type: "range", min: 0, max: motion.frames - 1, step: 0.1, value: 0, disabled: !project.reports,
    "aria-label": `playhead of ${motion.name}`, title: `markers: ${markers}`,
    input: () => report({playhead: {[motion.name]: Number(slider.value)}})});
  const run = make("button", {type: "button", disabled: !project.reports, click: () => {
    playhead.running = !playhead.running;
    run.textContent = playhead.running ? "halt" : "run";
    let last = performance.now(), frame = Number(slider.value);
    const step = (time) => {
      if (!playhead.running || !slider.isConnected) return; // a change of the project builds another slider
      frame = (frame + Math.max(0, time - last) / 1000 * motion.rate) % motion.frames;
      last = time;
      slider.value = frame;
      report({playhead: {[motion.name]: Math.round(frame * 1000) / 1000}});
      requestAnimationFrame(step);
    };
    if (playhead.running) requestAnimationFrame(step);
  }}, "run");
  const row = make("tr", {}, cell(motion.name), cell(slider), make("td", {}, run));
  if (edit.on) row.lastElementChild.append(...tapParts(motion, slider));
  return row;
}

/// A line for a new binding, in the words of `kiai bind`.
function bindForm() {
  const words = make("input", {type: "text", size: 26, placeholder: "press tray play brush", "aria-label": "new binding"});
  return make("form", {submit: (event) => {
    event.preventDefault();
    if (words.value.trim() !== "") change("bind", {}, words.value.trim());
  }}, words, " ", make("button", {type: "submit"}, "add the binding"));
}

function buildTriggers() {
  for (const stop of triggers.held) stop(); // its button goes
  for (const rows of [triggers.rows, triggers.left, triggers.dials, triggers.scopes]) rows.clear();
  const parts = [table([["trigger"], ["action"], ...(inside ? [] : [[""]])], project.bindings.map(bindingRow))];
  const more = (title, rows) => {
    if (rows.length > 0) parts.push(table([[title], [""], [""]], rows));
  };
  if (!inside || inside.playable) {
    more("dial", project.dials.map(dialRow));
    more("scope", project.scopes.map(scopeRow));
    more("motion", project.motions.map(motionRow));
  }
  if (edit.on) parts.splice(1, 0, bindForm());
  at("triggers").replaceChildren(...parts);
}

watchers.project.push(buildTriggers);
watchers.event.push((event) => {
  for (const [name, {slider, number}] of triggers.dials) {
    const value = state.dials[name];
    if (value === undefined) continue;
    number.textContent = String(Math.round(value * 1000) / 1000);
    if (document.activeElement !== slider) slider.value = value;
  }
  for (const [name, {enter, pause, now}] of triggers.scopes) {
    const is = state.scopes[name] ?? "off";
    now.textContent = is;
    enter.textContent = is === "off" ? "enter" : "leave";
    pause.textContent = is === "paused" ? "resume" : "pause";
    pause.disabled = !project.reports || is === "off";
  }
  const timers = new Map(state.timers.map((timer) => [timer.binding, timer]));
  for (const [number, left] of triggers.left) {
    const timer = timers.get(number);
    left.textContent = timer ? ` ${timer.paused ? "paused, " : ""}${timer.left.toFixed(1)} s left` : "";
  }
  for (const decision of event.decisions)
    if (decision.binding > 0 && decision.decision !== "ended") light(triggers.rows.get(decision.binding));
});
