import { onBeforeUnmount, onMounted, type Ref } from "vue";

const EDGE_PX = 40;
const STEP_PX = 9;

/**
 * Choosing by dragging over a map of blocks: tells the one it began on and the one that the pointer is over, by their
 * `data-block`, whenever that is another one, and whether it is the first of this drag. Near an edge the map scrolls.
 */
export function useSweep(
  map: Ref<HTMLElement | null>,
  tell: (from: string, to: string, isFirst: boolean) => void,
): void {
  let from = "";
  let to = "";
  let hasMoved = false;
  let pointer = { x: 0, y: 0 };
  let frame = 0;

  const blockOf = (target: Element | null) => target?.closest<HTMLElement>("[data-block]")?.dataset.block ?? "";

  function begin(event: PointerEvent): void {
    from = event.button === 0 ? blockOf(event.target as Element) : "";
    to = from;
    hasMoved = false;
  }
  function move(event: PointerEvent): void {
    if (!from) return;
    if (!(event.buttons & 1)) return end();
    pointer = { x: event.clientX, y: event.clientY };
    look();
  }
  function look(): void {
    cancelAnimationFrame(frame);
    const box = map.value!.getBoundingClientRect();
    const inside = {
      x: Math.min(Math.max(pointer.x, box.left + 1), box.right - 1),
      y: Math.min(Math.max(pointer.y, box.top + 1), box.bottom - 1),
    };
    const block = blockOf(document.elementFromPoint(inside.x, inside.y));
    if (block && block !== to) {
      to = block;
      tell(from, to, !hasMoved);
      hasMoved = true;
    }
    const across = push(pointer.x, box.left, box.right);
    const down = push(pointer.y, box.top, box.bottom);
    if (!hasMoved || !(across || down)) return;
    map.value!.scrollBy(across, down);
    frame = requestAnimationFrame(look);
  }
  function end(): void {
    from = to = "";
    cancelAnimationFrame(frame);
  }

  onMounted(() => {
    map.value!.addEventListener("pointerdown", begin);
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", end);
    window.addEventListener("pointercancel", end);
  });
  onBeforeUnmount(() => {
    end();
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", end);
    window.removeEventListener("pointercancel", end);
  });
}

/** How far to scroll on, the pointer being near an edge or past it. */
function push(at: number, low: number, high: number): number {
  if (at > high - EDGE_PX) return STEP_PX;
  return at < low + EDGE_PX ? -STEP_PX : 0;
}
