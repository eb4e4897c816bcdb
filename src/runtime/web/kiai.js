// Kiai in a browser: plays a pack.
//
//   import {Kiai} from "./kiai.js";
//   const kiai = await Kiai.open("marble-run.kiai");
//   stage.onpointerdown = (event) => kiai.press(event.offsetX, event.offsetY);
//
// kiai.wasm, wasm.js and worklet.js are beside this file. Browsers play nothing before a click or a key: the first report
// after one starts the engine.

import {KiaiWasm} from "./wasm.js";

/** Decodes an audio file at its own rate. The samples of FLAC files of 16 bits are exact. */
async function decodeFile(path, bytes) {
  const rate = rateOf(bytes); // at another rate the browser would convert it
  const decoded = await new OfflineAudioContext(1, 1, rate).decodeAudioData(bytes.slice().buffer);
  const channels = [];
  for (let c = 0; c < decoded.numberOfChannels; ++c) channels.push(decoded.getChannelData(c));
  if (hasSixteenBits(bytes)) channels.forEach(restore);
  return {path, rate, channels};
}

const magic = {flac: 0x664c6143, riff: 0x52494646, ogg: 0x4f676753}; // the first four bytes

function viewOf(bytes) {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

function hasSixteenBits(bytes) {
  return viewOf(bytes).getUint32(0) === magic.flac && ((bytes[20] & 1) << 4 | bytes[21] >> 4) + 1 === 16;
}

/** Some browsers divide positive samples by 32767 and others by 32768. */
function restore(channel) {
  channel.forEach((sample, i) => {
    const exact = sample * 32768;
    if (!Number.isInteger(exact) || exact > 32767) channel[i] = Math.round(sample * 32767) / 32768;
  });
}

/** The rate that the head of a FLAC, Ogg Vorbis or WAV file names; 48000 for others, and for rates that browsers refuse. */
function rateOf(bytes) {
  const view = viewOf(bytes), kind = view.byteLength < 64 ? 0 : view.getUint32(0);
  const rate = kind === magic.flac ? view.getUint32(18) >>> 12
    : kind === magic.riff ? view.getUint32(24, true)
    : kind === magic.ogg && view.getUint32(28) === 0x01766f72 ? view.getUint32(40, true) : 0; // "\x01vor"
  return rate >= 8000 && rate <= 96000 ? rate : 48000;
}

async function bytesOf(from) {
  if (from instanceof ArrayBuffer) return from;
  const answer = await fetch(from);
  if (!answer.ok) throw new Error(`${from}: the server answered ${answer.status}`);
  return answer.arrayBuffer();
}

export class Kiai {
  /**
   * Loads a pack that `kiai pack` made: an address or an ArrayBuffer.
   * `context`: an AudioContext of the page's own. `seed`: of all random choices. `portable`: use the kernels whose samples
   * are the same on every system. `wasm`, `worklet`: other places of these files, `wasm` also as an ArrayBuffer.
   */
  static async open(pack, {context, seed, portable = false, wasm, worklet} = {}) {
    const here = (file) => new URL(file, import.meta.url);
    const [packed, program] = await Promise.all([bytesOf(pack), bytesOf(wasm ?? here("kiai.wasm"))]);
    const module = await WebAssembly.compile(program);
    const scan = new KiaiWasm(module), {calls} = scan, web = scan.load(packed);
    const files = [];
    for (let i = 0, count = calls.kiai_web_scan(web); i < count; ++i)
      files.push([scan.text(calls.kiai_web_file(web, i)), scan.bytes(calls.kiai_web_file_bytes(web, i), calls.kiai_web_file_size(web, i))]);
    const decoded = await Promise.all(files.map(([path, bytes]) => decodeFile(path, bytes)));
    context ??= new AudioContext({latencyHint: "interactive"});
    await context.audioWorklet.addModule(worklet ?? here("worklet.js"));
    const node = new AudioWorkletNode(context, "kiai", {numberOfInputs: 0, outputChannelCount: [2],
      processorOptions: {module, pack: packed, decoded, seed: seed ?? Math.floor(Math.random() * 2 ** 32), portable}});
    const kiai = new Kiai(context, node);
    kiai.findings = await new Promise((resolve, reject) => {
      node.onprocessorerror = () => reject(new Error("the audio thread could not start kiai.wasm"));
      node.port.onmessage = ({data}) => resolve(data.findings);
    });
    node.port.onmessage = ({data}) => kiai.hear(data);
    node.connect(context.destination);
    return kiai;
  }

  constructor(context, node) {
    this.context = context;
    this.node = node;
    /** Lines about the project, as `kiai check` prints them. */
    this.findings = [];
    /** Called about 20 times a second with {decisions, left_out, state: {now, sounding, scopes, dials}}. */
    this.onEvent = null;
    this.onRecorded = null;
  }

  hear(data) {
    if (data.event) this.onEvent?.(data.event);
    if (data.recorded) this.onRecorded?.(data.recorded);
    for (const finding of data.findings ?? []) console.warn(`kiai: ${finding}`);
  }

  /** Reports a line of a trace, such as {press: [118, 82]} or {dial: {fill: 0.5}}. */
  report(line) {
    if (this.context.state === "suspended") this.context.resume();
    this.node.port.postMessage({line});
  }

  press(x, y, pointer = 0) { this.report({press: [x, y], "pointer-id": pointer}); }
  release(pointer = 0) { this.report({release: true, "pointer-id": pointer}); }
  pointer(x, y, pointer = 0) { this.report({pointer: [x, y], "pointer-id": pointer}); }
  pointerGone(pointer = 0) { this.report({"pointer-gone": true, "pointer-id": pointer}); }
  keyDown(code) { this.report({"key-down": code}); }
  keyUp(code) { this.report({"key-up": code}); }
  contact(kind, other, strength = 1, place = 0) { this.report({contact: [kind, other], strength, place}); }
  notice(name, values = {}) { this.report({notice: name, values}); }
  setDial(name, value) { this.report({dial: {[name]: value}}); }
  enterScope(name) { this.report({"scope-enter": name}); }
  leaveScope(name) { this.report({"scope-leave": name}); }
  play(sound) { this.report({play: sound}); }

  /** Tells which scopes and dials each event shall hold. */
  watch(scopes, dials) { this.node.port.postMessage({watch: {scopes, dials}}); }

  /** Keeps what is reported and rendered until `recording` is called. */
  record() { this.node.port.postMessage({record: true}); }
  /** Returns {lines, blocks}: the reports with their frames, and the samples in interleaved blocks of 128 frames. */
  recording() {
    return new Promise((resolve) => {
      this.onRecorded = resolve;
      this.node.port.postMessage({halt: true});
    });
  }
}
