// Levels: of each bus its peak and loudness as numbers with a thin line, and what the engine carries.

const levels = {rows: new Map(), plays: new Map()};

function busRow(bus) {
  const line = drawn("svg", {viewBox: "0 0 100 10", preserveAspectRatio: "none", "aria-hidden": "true"},
    drawn("line", {x1: 0, x2: 100, y1: 5, y2: 5, stroke: colour("line"), "stroke-width": 1}),
    drawn("line", {x1: 0, x2: 0, y1: 5, y2: 5, stroke: colour("calm"), "stroke-width": 3}));
  const peak = make("span", {}), loudness = make("span", {}), ducked = make("span", {class: "hint"});
  const gain = make("input", {type: "number", min: -60, max: 24, step: 1, value: 0, disabled: !project.reports, "aria-label": `gain of ${bus.name}`,
    title: "gain in dB, for listening only", change: () => report({"bus-gain": {[bus.name]: Number(gain.value)}})});
  const mute = make("button", {type: "button", disabled: !project.reports, click: () => report({"bus-mute": {[bus.name]: mute.textContent === "mute"}})}, "mute");
  const write = make("button", {type: "button", title: "add this gain to the gain in kiai.toml", click: () => {
    setValue(["bus", bus.name, "gain"], String(Math.round((bus.gain + Number(gain.value)) * 10) / 10));
    report({"bus-gain": {[bus.name]: 0}});
  }}, "write");
  levels.rows.set(bus.name, {line: line.lastElementChild, peak, loudness, ducked, gain, mute});
  return make("tr", {}, cell(bus.name), make("td", {class: "line"}, line, ducked), cell(peak, true), cell(loudness, true), cell(gain), make("td", {}, mute, ...(edit.on ? [" ", write] : [])));
}

/// A row stays the same element while its play lasts, so that its button can be pressed.
function playRow({number, sound: name}) {
  const elapsed = make("span", {}), now = make("span", {});
  const stop = make("button", {type: "button", disabled: !project.reports, title: `stop all plays of ${name}`, "data-play": number,
    click: () => report({stop: name})}, "stop");
  return {row: make("tr", {}, cell(`${name} #${number}`), cell(elapsed, true), cell(now), cell(stop)), elapsed, now};
}

function showPlays() {
  const shown = state.plays.slice(0, 6), rows = levels.plays;
  for (const [number, {row}] of rows)
    if (!shown.some((play) => play.number === number)) {
      row.remove();
      rows.delete(number);
    }
  for (const play of shown) {
    if (!rows.has(play.number)) {
      rows.set(play.number, playRow(play));
      at("playing").querySelector("tbody").append(rows.get(play.number).row);
    }
    const {elapsed, now} = rows.get(play.number);
    elapsed.textContent = play.elapsed.toFixed(1);
    now.textContent = play.state;
  }
  at("playing").hidden = shown.length === 0;
}

function buildLevels() {
  if (inside) return;
  levels.rows.clear();
  levels.plays.clear();
  at("playing").replaceChildren(table([["playing now"], ["seconds", true], ["state"], [""]], []));
  at("levels").replaceChildren(table([["bus"], [""], ["peak dBFS", true], ["LUFS", true], ["gain dB", true], [""]], project.buses.map(busRow)));
}

watchers.project.push(buildLevels);
watchers.event.push((event) => {
  if (inside) return;
  for (const bus of state.buses) {
    const row = levels.rows.get(bus.name);
    if (!row) continue;
    const db = bus.peak > 0 ? 20 * Math.log10(bus.peak) : -60;
    row.line.setAttribute("x2", Math.max(0, Math.min(100, (db + 60) / 60 * 100)));
    row.peak.textContent = decibels(bus.peak) + (bus.reduction < 0 ? ` (limited ${bus.reduction})` : "");
    const duck = event.ducked[bus.name];
    row.ducked.textContent = duck ? `${duck.by.toFixed(1)} under ${duck.under}` : ""; // its line is always there, so that nothing moves
    row.loudness.textContent = bus.loudness > -100 ? bus.loudness.toFixed(1) : "−∞";
    row.mute.textContent = bus.muted ? "unmute" : "mute";
    if (document.activeElement !== row.gain) row.gain.value = bus.gain;
  }
  showPlays();
  const load = state.load;
  at("device").textContent = event.device;
  at("load").textContent = `${counted(state.plays.length, "play")}, ${load.voices} of ${load.most_voices} voices, block time ${(load.median * 100).toFixed(1)} % (worst ${(load.worst * 100).toFixed(0)} %)`
    + (event.late > 0 ? `, ${counted(event.late, "late block")}` : "");
});
