// Kiai in the audio thread of a browser: renders, and serves what the page reports.

import {KiaiWasm} from "./wasm.js";

const frames = 128; // that a browser renders at once
const whole = (value) => BigInt(Math.trunc(value ?? 0));
const only = (values) => Object.entries(values)[0];

/** What a stop, pause, resume or restart is about: a number of kiai_c.h, and a name. */
function targetOf(value) {
  if (typeof value === "string") return [1, value];
  const [kind, name] = only(value);
  return [["", "sound", "bus", "scope", "sequence", "everything"].indexOf(kind), String(name)];
}

function bodyCall(line) {
  const begin = [whole(line.body), line.kind, ...line.to];
  return line.size ? ["kiai_body_box", ...begin, ...line.size] : ["kiai_body", ...begin, line.radius ?? 0];
}

/** For each kind of report, in the words of a trace: the other members that are read, and the call. */
const reports = {
  press: [["pointer-id"], (line) => ["kiai_press", ...line.press, whole(line["pointer-id"])]],
  release: [["pointer-id"], (line) => ["kiai_release", whole(line["pointer-id"])]],
  pointer: [["pointer-id"], (line) => ["kiai_pointer", ...line.pointer, whole(line["pointer-id"])]],
  "pointer-gone": [["pointer-id"], (line) => ["kiai_pointer_gone", whole(line["pointer-id"])]],
  "key-down": [[], (line) => ["kiai_key_down", line["key-down"]]],
  "key-up": [[], (line) => ["kiai_key_up", line["key-up"]]],
  contact: [["strength", "place", "pair"],
    (line) => ["kiai_contact", ...line.contact, line.strength ?? 1, line.place ?? 0, whole(line.pair)]],
  "contact-end": [[], (line) => ["kiai_contact_end", whole(line["contact-end"])]],
  body: [["kind", "to", "size", "radius"], bodyCall],
  "body-gone": [[], (line) => ["kiai_body_gone", whole(line["body-gone"])]],
  notice: [["values"], (line) => ["kiai_notice", line.notice, line.values ?? {}]],
  playhead: [["pointer-id"], (line) => ["kiai_playhead", ...only(line.playhead), line["pointer-id"] ?? 0]],
  "playhead-gone": [["pointer-id"], (line) => ["kiai_playhead_gone", line["playhead-gone"], line["pointer-id"] ?? 0]],
  dial: [[], (line) => ["kiai_set_dial", ...only(line.dial)]],
  "scope-enter": [[], (line) => ["kiai_enter_scope", line["scope-enter"]]],
  "scope-leave": [[], (line) => ["kiai_leave_scope", line["scope-leave"]]],
  "scope-pause": [[], (line) => ["kiai_pause_scope", line["scope-pause"]]],
  "scope-resume": [[], (line) => ["kiai_resume_scope", line["scope-resume"]]],
  zone: [["to", "scale"], (line) => ["kiai_move_zone", line.zone, ...line.to, line.scale ?? 1]],
  "zone-gone": [[], (line) => ["kiai_remove_zone", line["zone-gone"]]],
  play: [["scope"], (line) => ["kiai_play", line.play, line.scope ?? ""]],
  toggle: [[], (line) => ["kiai_toggle", line.toggle]],
  run: [[], (line) => ["kiai_run", line.run]],
  stop: [["fade"], (line) => ["kiai_stop", ...targetOf(line.stop), line.fade ?? -1]],
  pause: [[], (line) => ["kiai_pause", ...targetOf(line.pause)]],
  resume: [[], (line) => ["kiai_resume", ...targetOf(line.resume)]],
  restart: [[], (line) => ["kiai_restart", ...targetOf(line.restart)]],
  "bus-gain": [["over"], (line) => ["kiai_set_bus_gain", ...only(line["bus-gain"]), line.over ?? 0.01]],
  "bus-mute": [[], (line) => ["kiai_mute_bus", only(line["bus-mute"])[0], only(line["bus-mute"])[1] ? 1 : 0]],
  "input-lost": [[], () => ["kiai_input_lost"]],
  "wind-down": [[], (line) => ["kiai_wind_down", line["wind-down"]]],
};

/** Returns what is wrong with a line; empty: nothing. */
function faultOf(line, kind) {
  const text = JSON.stringify(line);
  if (!kind) return `unknown report ${text}`;
  const other = Object.keys(line).find((key) => key !== kind && key !== "at" && !reports[kind][0].includes(key));
  return other ? `"${other}" is not read here: ${text}` : "";
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

  /** Calls a function of kiai_c.h. A text becomes its address, and an object a list of names and one of numbers. */
  call(name, ...values) {
    const {wasm} = this, {calls} = wasm, tables = [];
    const table = (into, numbers) => {
      const place = calls.malloc(4 * numbers.length + 4);
      new into(calls.memory.buffer, place, numbers.length).set(numbers);
      tables.push(place);
      return place;
    };
    const texts = values.flatMap((value) => typeof value === "string" ? [value] : typeof value === "object" ? Object.keys(value) : []);
    return wasm.withTexts(texts, (...places) => {
      const words = values.flatMap((value) => {
        if (typeof value === "string") return [places.shift()];
        if (typeof value !== "object") return [value];
        const count = Object.keys(value).length;
        return [table(Uint32Array, places.splice(0, count)), table(Float32Array, Object.values(value)), count];
      });
      const result = calls[name](this.engine, ...words);
      for (const place of tables) calls.free(place);
      return result;
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
    const kind = Object.keys(reports).find((word) => word in line), fault = faultOf(line, kind);
    if (fault !== "") return this.port.postMessage({findings: [fault]});
    this.recorded?.lines.push({frame: Number(this.wasm.calls.kiai_now(this.engine)) - this.recorded.from, ...line});
    this.call(...reports[kind][1](line));
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
      const value = (what) => calls[`kiai_web_${what}`](web), text = (what) => wasm.text(value(what));
      const decision = {decision: text("outcome"), trigger: text("trigger"), on: text("on"), sound: text("sound"), rule: text("rule"),
        text: text("line"), frame: value("frame"), binding: value("binding"), play: value("play_number")};
      if (decision.trigger === "press") decision.point = [value("x"), value("y")];
      decisions.push(decision);
    }
    const scopes = {}, dials = {};
    for (const name of this.watched.scopes) scopes[name] = ["off", "on", "paused"][this.call("kiai_scope", name)];
    for (const name of this.watched.dials) {
      this.call("kiai_dial", name, this.out);
      dials[name] = wasm.floats(this.out, 1)[0];
    }
    const now = Number(calls.kiai_now(this.engine)), sounding = calls.kiai_sounding(this.engine);
    this.port.postMessage({event: {decisions, left_out: calls.kiai_web_left_out(web), state: {now, sounding, scopes, dials}}});
  }
}

registerProcessor("kiai", KiaiProcessor);
