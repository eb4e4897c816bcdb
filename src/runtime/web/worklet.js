// Kiai in the audio thread of a browser: renders, and serves what the page reports.

import {KiaiWasm} from "./wasm.js";

const frames = 128; // that a browser renders at once
const number = (value) => BigInt(Math.trunc(value ?? 0));

/** The call for each kind of report, in the words of a trace. */
const reports = {
  press: (kiai, line) => kiai.call("kiai_press", [], ...line.press, number(line["pointer-id"])),
  release: (kiai, line) => kiai.call("kiai_release", [], number(line["pointer-id"])),
  pointer: (kiai, line) => kiai.call("kiai_pointer", [], ...line.pointer, number(line["pointer-id"])),
  "pointer-gone": (kiai, line) => kiai.call("kiai_pointer_gone", [], number(line["pointer-id"])),
  "key-down": (kiai, line) => kiai.call("kiai_key_down", [line["key-down"]]),
  "key-up": (kiai, line) => kiai.call("kiai_key_up", [line["key-up"]]),
  contact: (kiai, line) => kiai.call("kiai_contact", line.contact, line.strength ?? 1, line.place ?? 0, number(line.pair)),
  "contact-end": (kiai, line) => kiai.call("kiai_contact_end", [], number(line["contact-end"])),
  notice: (kiai, line) => kiai.notice(line.notice, line.values ?? {}),
  playhead: (kiai, line) => each(line.playhead, (name, frame) => kiai.call("kiai_playhead", [name], frame, 0)),
  dial: (kiai, line) => each(line.dial, (name, value) => kiai.call("kiai_set_dial", [name], value)),
  "scope-enter": (kiai, line) => kiai.call("kiai_enter_scope", [line["scope-enter"]]),
  "scope-leave": (kiai, line) => kiai.call("kiai_leave_scope", [line["scope-leave"]]),
  "scope-pause": (kiai, line) => kiai.call("kiai_pause_scope", [line["scope-pause"]]),
  "scope-resume": (kiai, line) => kiai.call("kiai_resume_scope", [line["scope-resume"]]),
  play: (kiai, line) => kiai.call("kiai_play", [line.play, line.scope ?? ""]),
  toggle: (kiai, line) => kiai.call("kiai_toggle", [line.toggle]),
  run: (kiai, line) => kiai.call("kiai_run", [line.run]),
  "input-lost": (kiai) => kiai.call("kiai_input_lost", []),
  "wind-down": (kiai, line) => kiai.call("kiai_wind_down", [], line.fade ?? -1),
};

function each(values, call) {
  for (const [name, value] of Object.entries(values)) call(name, value);
}

class KiaiProcessor extends AudioWorkletProcessor {
  constructor({processorOptions: {module, pack, decoded, seed, portable}}) {
    super();
    this.wasm = new KiaiWasm(module);
    const {wasm} = this, calls = wasm.calls;
    this.web = wasm.load(pack);
    for (const {path, rate, channels} of decoded) {
      const count = channels[0].length;
      const into = wasm.withTexts([path], (place) => calls.kiai_web_samples(this.web, place, rate, channels.length, count));
      const room = wasm.floats(into, count * channels.length);
      channels.forEach((channel, c) => channel.forEach((sample, i) => { room[i * channels.length + c] = sample; }));
    }
    this.engine = calls.kiai_web_start(this.web, sampleRate, seed, portable ? 1 : 0);
    this.out = calls.malloc(2 * frames * 4);
    this.waiting = [];
    this.blocks = 0;
    this.watched = {scopes: [], dials: []};
    this.recorded = null;
    this.port.onmessage = ({data}) => this.waiting.push(data);
    this.port.postMessage({findings: this.findings()});
  }

  call(name, texts, ...numbers) {
    const {calls} = this.wasm;
    return this.wasm.withTexts(texts, (...places) => calls[name](this.engine, ...places, ...numbers));
  }

  notice(name, values) {
    const {wasm} = this, {calls} = wasm, names = Object.keys(values), count = names.length;
    return wasm.withTexts([name, ...names], (place, ...places) => {
      const table = calls.malloc(8 * count + 8);
      new Uint32Array(calls.memory.buffer, table, count).set(places);
      wasm.floats(table + 4 * count, count).set(Object.values(values));
      calls.kiai_notice(this.engine, place, table, table + 4 * count, count);
      calls.free(table);
    });
  }

  findings() {
    const {calls} = this.wasm, room = calls.malloc(1024), lines = [];
    for (let i = 0; i < calls.kiai_findings(this.engine); ++i) {
      calls.kiai_finding(this.engine, i, room, 1024);
      lines.push(this.wasm.text(room));
    }
    calls.free(room);
    return lines;
  }

  serve(message) {
    if (message.watch) this.watched = message.watch;
    if (message.record) this.recorded = {lines: [], blocks: [], from: Number(this.wasm.calls.kiai_now(this.engine))};
    if (message.halt) {
      this.port.postMessage({recorded: this.recorded});
      this.recorded = null;
    }
    const {line} = message;
    if (!line) return;
    const kind = Object.keys(reports).find((word) => word in line);
    if (!kind) return this.port.postMessage({findings: [`unknown report ${JSON.stringify(line)}`]});
    this.recorded?.lines.push({frame: Number(this.wasm.calls.kiai_now(this.engine)) - this.recorded.from, ...line});
    reports[kind](this, line);
  }

  process(inputs, [output]) {
    const {calls} = this.wasm;
    for (const message of this.waiting.splice(0)) this.serve(message);
    calls.kiai_render(this.engine, this.out, frames);
    const block = this.wasm.floats(this.out, 2 * frames);
    const [left, right = left] = output;
    for (let i = 0; i < frames; ++i) {
      left[i] = block[2 * i];
      right[i] = block[2 * i + 1];
    }
    this.recorded?.blocks.push(block.slice());
    if (++this.blocks % 16 === 0) this.tell(); // every 43 ms at 48 kHz
    return true;
  }

  tell() {
    const {wasm, web} = this, {calls} = wasm;
    calls.kiai_poll(this.engine);
    const decisions = [];
    for (; calls.kiai_web_decisions(web) > 0; calls.kiai_web_next(web)) {
      const text = (which) => wasm.text(calls.kiai_web_text(web, which)), value = (which) => calls.kiai_web_number(web, which);
      const decision = {decision: text(0), trigger: text(1), on: text(2), sound: text(3), rule: text(4), text: text(5),
        frame: value(0), binding: value(1), play: value(2)};
      if (decision.trigger === "press") decision.point = [value(3), value(4)];
      decisions.push(decision);
    }
    const scopes = {}, dials = {};
    for (const name of this.watched.scopes) scopes[name] = ["off", "on", "paused"][this.call("kiai_scope", [name])];
    for (const name of this.watched.dials) {
      this.call("kiai_dial", [name], this.out);
      dials[name] = wasm.floats(this.out, 1)[0];
    }
    const now = Number(calls.kiai_now(this.engine)), sounding = calls.kiai_sounding(this.engine);
    this.port.postMessage({event: {decisions, left_out: 0, state: {now, sounding, scopes, dials}}});
  }
}

registerProcessor("kiai", KiaiProcessor);
