import { type OnMoveEnd, useReactFlow } from "@xyflow/react";
import { type RefObject, useEffect } from "react";
import { isSliding } from "@/ui/touch-pad";

/** Milliseconds without a step after which the view has come to rest. */
const REST = 200;

/** Two fingers that slide over a touch-pad pan; a wheel, and pinching, zoom as the canvas does. */
export function useTouchPad(area: RefObject<HTMLElement | null>, onMoved: OnMoveEnd): void {
  const flow = useReactFlow();
  useEffect(() => {
    const box = area.current;
    if (!box) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const onWheel = (event: WheelEvent) => {
      if (!isSliding(event) || !(event.target as HTMLElement).closest(".react-flow")) return;
      event.preventDefault();
      event.stopPropagation();
      const { x, y, zoom } = flow.getViewport();
      void flow.setViewport({ x: x - event.deltaX, y: y - event.deltaY, zoom });
      clearTimeout(timer);
      timer = setTimeout(() => onMoved(event, flow.getViewport()), REST);
    };
    box.addEventListener("wheel", onWheel, { capture: true, passive: false });
    return () => {
      clearTimeout(timer);
      box.removeEventListener("wheel", onWheel, { capture: true });
    };
  }, [area, flow, onMoved]);
}
