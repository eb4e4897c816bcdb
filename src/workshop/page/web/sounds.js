// The catalogue: sounds, clips and findings.

const sounds = {played: new Map(), last: new Map(), drawn: new Map(), open: "", values: null};

function entries(kind) {
  return project.entries.filter((entry) => entry.kind === kind);
}

/// Plays a sound several times, each after the end of the one before.
function playTimes(name, times) {
  sounds.played.set(name, times);
  playNext(name);
}

function playNext(name) {
  const left = sounds.played.get(name) ?? 0;
  if (left <= 0) return;
  sounds.played.set(name, left - 1);
  report({play: name});
}

function soundRow(entry) {
  if (inside) {
    const endless = project.sounds.find((one) => one.name === entry.name)?.endless;
    const name = !inside.playable ? entry.name : make("button", {type: "button", "aria-label": `play ${entry.name}`,
      click: () => report({[endless ? "toggle" : "play"]: entry.name})}, entry.name);
    return make("tr", {"data-sound": entry.name}, cell(name), cell(entry.details.takes, true), cell(entry.details.loop ? "loop" : ""),
      cell(`${entry.details.plays || "any"}, ${entry.details.full}`), cell(entry.details.bus), cell(entry.state));
  }
  const sound = project.sounds.find((one) => one.name === entry.name) ?? {layers: [], endless: false};
  const button = (title, act, label) => make("button", {type: "button", disabled: !project.reports, click: act, "aria-label": `${label} ${entry.name}`}, title);
  const layers = sound.layers.length < 2 ? [] : sound.layers.flatMap(({label}, index) =>
    [" ", button(label || `layer ${index + 1}`, () => report({play: entry.name, layer: index + 1}), `play layer ${index + 1} of`)]);
  const many = sound.endless ? button("stop", () => report({stop: entry.name}), "stop") : button("10 times", () => playTimes(entry.name, 10), "play 10 times");
  const last = make("span", {class: "hint"});
  sounds.last.set(entry.name, last);
  const details = entry.details;
  const word = edit.on ? "change" : "values";
  layers.push(" ", make("button", {type: "button", "aria-label": `${word} ${entry.name}`, "aria-expanded": String(sounds.open === entry.name), click: () => {
    sounds.open = sounds.open === entry.name ? "" : entry.name;
    buildSounds();
  }}, sounds.open === entry.name ? "close" : word));
  return make("tr", {"data-sound": entry.name}, cell(entry.name),
    make("td", {}, button("play", () => report({play: entry.name}), "play"), " ", many, ...layers),
    cell(details.takes, true), cell(details.loop ? "loop" : ""), cell(`${details.plays || "any"}, ${details.full}`), cell(details.bus), cell(last), cell(entry.state));
}

function drawWave(canvas, columns) {
  const scale = window.devicePixelRatio || 1;
  canvas.width = 220 * scale;
  canvas.height = 24 * scale;
  const pen = canvas.getContext("2d");
  pen.scale(scale, scale);
  const half = columns.map((peak) => Math.max(0.3, (1 + peak / 60) * 12)), step = 220 / columns.length;
  pen.fillStyle = colour("calm");
  pen.beginPath();
  pen.moveTo(0, 12);
  half.forEach((height, index) => pen.lineTo(index * step, 12 - height));
  pen.lineTo(220, 12);
  for (let index = columns.length - 1; index >= 0; --index) pen.lineTo(index * step, 12 + half[index]);
  pen.fill();
}

async function showWave(canvas) {
  const clip = await ask(`clip?name=${encodeURIComponent(canvas.dataset.clip)}`).catch(() => null);
  if (clip?.columns) drawWave(canvas, clip.columns);
}

const seen = new IntersectionObserver((changes) => {
  for (const change of changes) {
    if (!change.isIntersecting) continue;
    seen.unobserve(change.target);
    showWave(change.target);
  }
});

function clipRow(entry) {
  const details = entry.details;
  const wave = make("canvas", {class: "wave", "data-clip": entry.name, role: "img", "aria-label": `waveform of ${entry.name}`});
  if (inside) showWave(wave); // at once, since it may be printed
  else seen.observe(wave);
  const audio = inside?.audio?.[entry.name];
  const hear = audio ? () => new Audio(audio).play().catch((error) => trouble(error.message)) : () => report({play: entry.name});
  const able = audio !== undefined || project.reports;
  const play = able ? make("button", {type: "button", click: hear, "aria-label": `play ${entry.name}`}, "play") : "";
  const author = inside?.[`clip?name=${encodeURIComponent(entry.name)}`]?.author;
  return make("tr", {}, cell(entry.name), cell(play), cell(wave), cell(details.seconds?.toFixed(2), true), cell(details.loudness?.toFixed(1), true),
    cell(author ? `${author}, ${details.licence}` : details.licence), cell(details.file), cell(entry.state));
}

/// What the last plays drew, next to what is stated, and the fields that change it.
function openRow(name) {
  sounds.values = make("div", {});
  showValues();
  return make("tr", {}, make("td", {colspan: 8}, sounds.values, edit.on && project.toml.sound?.[name] ? soundFields(name) : ""));
}

const signed = (value) => (value < 0 ? "−" : "+") + Math.abs(value).toFixed(2);

function statedText({takes, follows, ...spreads}) {
  const units = {pitch: "st", gain: "dB", pan: ""};
  const parts = Object.entries(units).filter(([key]) => spreads[key].some((value) => value !== 0))
    .map(([key, unit]) => `${key} ${signed(spreads[key][0])} … ${signed(spreads[key][1])} ${unit}`.trim());
  return `${takes} ${takes === 1 ? "take" : "takes"}; ${parts.length > 0 ? `varies by ${parts.join(", ")}` : "no variation"}${follows ? "; its follows add to that" : ""}`;
}

function showValues() {
  if (!sounds.values) return;
  const sound = project.sounds.find((one) => one.name === sounds.open), rows = sounds.drawn.get(sounds.open) ?? [];
  const stated = (sound?.layers ?? []).map((layer, index) =>
    make("p", {class: "hint"}, `${sound.layers.length > 1 ? `layer ${layer.label || index + 1}: ` : ""}stated: ${statedText(layer)}`));
  sounds.values.replaceChildren(...stated, table([["play", true], ["layer"], ["clip"], ["pitch st", true], ["gain dB", true], ["pan", true]],
    rows.map(({play, layer, which}) => make("tr", {}, cell(play, true), cell(which), cell(layer.clip), cell(signed(layer.pitch), true),
      cell(signed(layer.gain), true), cell(signed(layer.pan ?? 0), true)))));
}

function buildSounds() {
  sounds.values = null;
  seen.disconnect();
  const all = entries("sound"), clips = entries("clip");
  at("sounds").replaceChildren(all.length === 0 ? make("p", {class: "hint"}, "None.")
    : table([["sound"], ...(inside ? [] : [[""]]), ["takes", true], [""], ["plays, when full"], ["bus"], ...(inside ? [] : [["last play"]]), ["state"]],
      all.flatMap((entry) => !inside && sounds.open === entry.name ? [soundRow(entry), openRow(entry.name)] : [soundRow(entry)])));
  at("clips").replaceChildren(clips.length === 0 ? make("p", {class: "hint"}, "None.")
    : table([["clip"], [""], ["waveform"], ["seconds", true], ["LUFS", true], [inside ? "author, licence" : "licence"], ["file"], ["state"]], clips.map(clipRow)));
  at("findings").replaceChildren(project.findings.length === 0 ? make("p", {class: "hint"}, "None.")
    : table([["severity"], ["line", true], ["problem"], ["fix"]], project.findings.map((finding) =>
      make("tr", {class: `severity-${finding.severity}`}, cell(finding.severity), cell(finding.line || "", true), cell(finding.message), cell(finding.fix)))));
}

function describeTake(layer) {
  return `${layer.clip} ${signed(layer.pitch)} st ${signed(layer.gain)} dB`;
}

watchers.project.push(buildSounds);
watchers.event.push((event) => {
  for (const decision of event.decisions) {
    if (decision.decision === "played") {
      const last = sounds.last.get(decision.sound);
      if (last) last.textContent = (decision.layers ?? []).map(describeTake).join("; ");
      const drawn = (decision.layers ?? []).map((layer, index) =>
        ({play: decision.play, layer, which: layer.label ?? layer.layer ?? index + 1}));
      sounds.drawn.set(decision.sound, [...drawn, ...(sounds.drawn.get(decision.sound) ?? [])].slice(0, 8));
      if (decision.sound === sounds.open) showValues();
    }
    if (decision.decision === "ended") playNext(decision.sound);
  }
});
