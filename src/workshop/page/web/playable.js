// A report with the engine inside: presses and keys are heard, as in the app.

const playable = {kiai: null};

/// An address for `import`. Browsers give a file's audio thread no other scripts than such.
function scriptAddress(text) {
  return `data:text/javascript,${encodeURIComponent(text)}`;
}

function bytesIn(text) {
  return Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0)).buffer;
}

async function startPlayable() {
  const {scripts, program, pack} = inside.playable;
  // A file's scripts may not import each other, so each holds what it needs.
  const linked = (name) => scriptAddress(scripts["wasm.js"].replace(/^export /m, "") + scripts[name].replace(/^import .*$/m, ""));
  try {
    const {Kiai} = await import(linked("kiai.js"));
    const kiai = await Kiai.open(bytesIn(pack), {wasm: bytesIn(program), worklet: linked("worklet.js"), ...inside.playable.options});
    kiai.watch(project.scopes.map((scope) => scope.name), project.dials.map((dial) => dial.name));
    kiai.onEvent = (event) => {
      Object.assign(state, event.state);
      for (const watcher of watchers.event) watcher(event);
    };
    playable.kiai = kiai;
    at("stage-hint").textContent = stage.hint;
  } catch (error) {
    trouble(`This browser cannot play the report: ${error.message}`);
  }
}
