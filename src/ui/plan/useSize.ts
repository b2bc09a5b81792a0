'use client';
import { useEffect, useState } from 'react';
import type { Size } from './view';

/** The size of an element in px, kept up to date; null before it is known. */
export function useSize(element: React.RefObject<HTMLElement | null>): Size | null {
  const [size, setSize] = useState<Size | null>(null);
  useEffect(() => {
    if (!element.current) return;
    const observer = new ResizeObserver(([entry]) => entry && setSize({ widthPx: entry.contentRect.width, heightPx: entry.contentRect.height }));
    observer.observe(element.current);
    return () => observer.disconnect();
  }, [element]);
  return size;
}
