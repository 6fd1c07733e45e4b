// A finger or a mouse on the picture. A tap is an arrow, also beside or on another one; a finger that rests looks closer,
// and the arrow is where it is lifted; one that rests long on a shot picks it up; a mouse drags a shot. A swipe scrolls.
const JITTER_PX = 9, DRAG_PX = 6, LOOK_MS = 220, PICK_MS = 750, BOUNCE_MS = 300, BOUNCE_PX = 4;

// `shotAt` names the shot under a point, `samePlace` tells whether two points are too near to be two arrows
export function fingers(svg, { shotAt, samePlace, tapped, bounced, looking, picked, moved, dropped }) {
  let hand = null, last = null;
  const apart = (event) => Math.hypot(event.clientX - hand.x, event.clientY - hand.y);
  const inside = (event) => {
    const box = svg.getBoundingClientRect();
    return event.clientX >= box.left && event.clientX <= box.right && event.clientY >= box.top && event.clientY <= box.bottom;
  };
  const let_go = () => {
    if (!hand) return;
    for (const timer of hand.timers) clearTimeout(timer);
    hand = null;
    looking(null);
  };

  svg.addEventListener("pointerdown", (event) => {
    if (!event.isPrimary || event.button > 0) return;
    let_go();
    const key = shotAt(event);
    svg.setPointerCapture(event.pointerId);
    hand = { x: event.clientX, y: event.clientY, event, key, mouse: event.pointerType === "mouse", does: "tap", timers: [] };
    if (hand.mouse) return;
    hand.timers.push(setTimeout(() => { hand.does = "look"; looking(hand.event); }, LOOK_MS));
    if (key) hand.timers.push(setTimeout(() => {
      if (apart(hand.event) > JITTER_PX) return;
      hand.does = "move";
      picked(key);
    }, PICK_MS));
  });
  svg.addEventListener("pointermove", (event) => {
    if (!hand || !event.isPrimary) return;
    hand.event = event;
    if (hand.does === "tap" && hand.mouse && hand.key && apart(event) > DRAG_PX) {
      hand.does = "move";
      picked(hand.key);
    }
    if (hand.does === "tap" && !hand.mouse && apart(event) > JITTER_PX) let_go();
    else if (hand.does === "look") looking(event);
    else if (hand.does === "move") { looking(hand.mouse ? null : event); if (apart(event) > DRAG_PX) { hand.far = true; moved(hand.key, event); } }
  });
  svg.addEventListener("pointerup", (event) => {
    if (!hand || !event.isPrimary) return;
    const { does, key, far } = hand, swept = apart(event) > 3 * JITTER_PX;
    let_go();
    if (does === "move") { dropped(key, Boolean(far), event); return; }
    if (does === "tap" && swept) return;
    const bounce = does === "tap" && last !== null && event.timeStamp - last.timeStamp < BOUNCE_MS
      && Math.hypot(event.clientX - last.clientX, event.clientY - last.clientY) <= BOUNCE_PX && samePlace(event, last);
    last = event;
    if (!inside(event)) return;
    if (bounce) bounced(event); else tapped(event);
  });
  svg.addEventListener("pointercancel", let_go);
  // the page stands still under a finger that looks or moves; a swipe before that scrolls it
  const still = (event) => { if (hand && hand.does !== "tap" && event.cancelable) event.preventDefault(); };
  // what lies under the finger may be drawn anew meanwhile: it is asked itself, not the picture around it
  svg.addEventListener("touchstart", (event) => event.target.addEventListener("touchmove", still, { passive: false }), { passive: true });
  svg.addEventListener("mousedown", (event) => { if (event.target.closest(".shot")) event.preventDefault(); });  // the hand stays where it is
  svg.addEventListener("contextmenu", (event) => { if (event.pointerType !== "mouse") event.preventDefault(); });
}
