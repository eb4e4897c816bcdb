// Starts kiai.wasm, and passes texts to and from its memory. For the page and for its audio thread, in which there are
// neither files nor text coders.

export class KiaiWasm {
  /** `module`: the compiled kiai.wasm. */
  constructor(module) {
    const imports = {};
    for (const {module: group, name} of WebAssembly.Module.imports(module))
      (imports[group] ??= {})[name] = (...values) => this.system(name, values);
    this.calls = new WebAssembly.Instance(module, imports).exports;
    this.calls._initialize?.();
  }

  /** What the program asks its system for: a clock, and nothing else that exists here. */
  system(name, values) {
    if (name === "clock_time_get") {
      new DataView(this.calls.memory.buffer).setBigUint64(values[2], BigInt(Date.now()) * 1000000n, true);
      return 0;
    }
    if (name === "proc_exit") throw new Error(`kiai.wasm ended: ${values[0]}`);
    return 8; // there is no such file
  }

  bytes(from, count) { return new Uint8Array(this.calls.memory.buffer, from, count); }
  floats(from, count) { return new Float32Array(this.calls.memory.buffer, from, count); }

  /** The text at an address. */
  text(from) {
    const memory = new Uint8Array(this.calls.memory.buffer);
    let coded = "";
    for (let at = from; memory[at] !== 0; ++at) coded += "%" + memory[at].toString(16).padStart(2, "0");
    return decodeURIComponent(coded);
  }

  /** Calls `call` with the addresses of texts, which exist until it returns. */
  withTexts(texts, call) {
    const places = texts.map((text) => {
      const coded = unescape(encodeURIComponent(text)), place = this.calls.malloc(coded.length + 1);
      const into = this.bytes(place, coded.length + 1);
      for (let i = 0; i < coded.length; ++i) into[i] = coded.charCodeAt(i);
      into[coded.length] = 0;
      return place;
    });
    try {
      return call(...places);
    } finally {
      for (const place of places) this.calls.free(place);
    }
  }

  /** Makes a kiai_web with a pack. */
  load(pack) {
    const web = this.calls.kiai_web_new(pack.byteLength);
    this.bytes(this.calls.kiai_web_pack(web), pack.byteLength).set(new Uint8Array(pack));
    return web;
  }
}
