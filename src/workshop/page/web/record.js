// Records what is done on the page as a trace of the project.

const recording = {on: false};

function buildRecord() {
  const box = at("recording");
  if (!project.records) return box.replaceChildren();
  const said = make("span", {class: "hint"}), button = make("button", {type: "button"}, "record a trace");
  button.addEventListener("click", async () => {
    const answer = await act(`record?on=${recording.on ? 0 : 1}`);
    if (!answer) return;
    recording.on = !recording.on;
    button.textContent = recording.on ? "stop recording" : "record a trace";
    said.textContent = recording.on ? " recording" : ` wrote ${answer.file}, ${answer.lines} lines`;
  });
  box.replaceChildren(button, said);
}

let built = false;
watchers.project.push(() => {
  if (!built) buildRecord(); // a change of the project must not end a recording
  built = true;
});
