'use client';

import { markerNames, type Marker } from '@umbral/core/words';
import { useEffect, useState, type RefObject } from 'react';

/** The longest name that is written out, letters. */
const longestName = 30;
/** Before the lane is measured, pixels. */
const usualWidth = 640;

/** What a marker is called under the run: what happened, and to which part. */
export function markerSays({ event, note, inferred }: Marker): string {
  const says = note ? `${markerNames[event]}: ${note}` : markerNames[event];
  const short = says.length > longestName ? `${says.slice(0, longestName - 1)}…` : says;
  return inferred ? `${short} ?` : short;
}

/** Width of something on the page, pixels. */
export function useWidth(of: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(usualWidth);
  useEffect(() => {
    const element = of.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, [of]);
  return width;
}
