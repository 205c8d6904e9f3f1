import type { MouseEvent } from 'react';

/** Where a pointer is in the element that listens, -1..1 each way, up and to the right. */
export function placeInBox(event: MouseEvent<HTMLElement>): [x: number, y: number] {
  const box = event.currentTarget.getBoundingClientRect();
  return [((event.clientX - box.left) / box.width) * 2 - 1, 1 - ((event.clientY - box.top) / box.height) * 2];
}
