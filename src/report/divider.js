// Lets the handle of a stage be dragged and moved by keys; name() is what lies at its left. Returns what tells its
// place anew, for where the names have changed.
function divider(stage, name) {
  const handle = stage.querySelector(".handle");
  let at = 50;
  const moveTo = (percent) => {
    at = Math.min(100, Math.max(0, percent));
    stage.style.setProperty("--at", at + "%");
    handle.setAttribute("aria-valuenow", Math.round(at));
    handle.setAttribute("aria-valuetext", Math.round(at) + " % " + name());
  };
  const follow = (event) => {
    const box = stage.getBoundingClientRect();
    moveTo((event.clientX - box.left) / box.width * 100);
  };
  const beginDrag = (event) => {
    if (event.button !== 0 || (event.currentTarget === stage && stage.closest(".own"))) return;
    event.stopPropagation();
    handle.focus({ preventScroll: true });
    const target = event.currentTarget;
    try { target.setPointerCapture(event.pointerId); } catch { /* the pointer is gone already */ }
    target.addEventListener("pointermove", follow);
    const end = () => target.removeEventListener("pointermove", follow);
    target.addEventListener("pointerup", end, { once: true });
    target.addEventListener("pointercancel", end, { once: true });
    follow(event);
  };
  stage.addEventListener("pointerdown", beginDrag);
  handle.addEventListener("pointerdown", beginDrag);
  handle.addEventListener("keydown", (event) => {
    const step = event.shiftKey ? 10 : 1;
    const to = { ArrowLeft: at - step, ArrowDown: at - step, ArrowRight: at + step, ArrowUp: at + step,
      Home: 0, End: 100, " ": at < 50 ? 100 : 0 }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    moveTo(to);
  });
  moveTo(at);
  return () => moveTo(at);
}
