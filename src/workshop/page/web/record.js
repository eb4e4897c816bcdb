// Records what is done on the page as a trace of the project.

const recording = {on: false, shown: 0};

function buildRecord() {
  const box = at("recording");
  if (!project.records) return box.replaceChildren();
  const said = make("span", {class: "hint"}), button = make("button", {type: "button"}, "record a trace");
  button.addEventListener("click", async () => {
    const answer = await act(`record?on=${recording.on ? 0 : 1}`);
    if (!answer) return;
    recording.on = !recording.on;
    button.textContent = recording.on ? "stop recording" : "record a trace";
    said.textContent = recording.on ? " recording" : ` wrote ${answer.file}`;
    if (!recording.on) showRecording();
  });
  box.replaceChildren(button, said);
}

/// The rehearsal of the last recording: its picture, and what it shows, to be expected by a click.
async function showRecording() {
  const shown = await ask("recording").catch((error) => void trouble(error.message));
  if (!shown) return;
  const said = make("p", {class: "hint", role: "status"}, "Choose what the app must show from now on.");
  const row = (sentence, index) => {
    const button = make("button", {type: "button", "aria-label": `expect: ${sentence}`, click: async () => {
      const answer = await act(`expect?number=${index + 1}`);
      if (!answer) return;
      button.disabled = true;
      button.textContent = "expected";
      said.textContent = `${answer.file} states ${answer.count}: kiai rehearse . ${shown.file} --expect ${answer.file}`;
    }}, "expect");
    return make("tr", {}, cell(button), cell(sentence));
  };
  at("recording-parts").replaceChildren(said,
    make("div", {class: "side"}, table([[""], [`what ${shown.file} shows`]], shown.expectations.map(row)),
      make("img", {src: `recording.png?${recording.shown += 1}`, alt: `Rehearsal of ${shown.file}`})));
  at("recording-section").hidden = false;
}

let built = false;
watchers.project.push(() => {
  if (!built) buildRecord(); // a change of the project must not end a recording
  built = true;
});
