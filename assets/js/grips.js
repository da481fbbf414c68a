// What is taken hold of on a picture: a pointer is followed, the arrow keys go by pencil marks.

const ARROWS = { ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowRight: [1, 0], ArrowDown: [0, 1] };

/** How far an arrow key goes, to the right and down; the page does not scroll for it. Nothing for any other key. */
export function arrow(event) {
  const by = ARROWS[event.key];
  if (by) event.preventDefault();
  return by;
}

/** Where a pointer is on an element, in shares of its sides, told from where a thing was taken hold of. */
export function shares(element) {
  const box = element.getBoundingClientRect();
  return (now, [x, y] = [0, 0]) => ({ across: (now.clientX - box.left) / box.width - x, down: (now.clientY - box.top) / box.height - y });
}

/** Follows a pointer from where it was pressed: each move bends, letting go keeps. */
export function follow(event, change, bend) {
  event.preventDefault();
  event.stopPropagation();
  const target = event.currentTarget;
  target.focus({ preventScroll: true });
  target.setPointerCapture(event.pointerId);
  let last = null;
  const drag = (now) => {
    last = change(now);
    bend(last, false);
  };
  const drop = () => {
    target.removeEventListener("pointermove", drag);
    if (last) bend(last, true);
  };
  target.addEventListener("pointermove", drag);
  target.addEventListener("pointerup", drop, { once: true });
  target.addEventListener("pointercancel", drop, { once: true });
}
