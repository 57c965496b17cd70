import { useCallback, useRef, useState } from 'react';

/** Size of an element in pixels, kept up to date; zero until it is laid out. */
export function useSize(): [(element: Element | null) => void, { width: number; height: number }] {
  const [size, setSize] = useState({ width: 0, height: 0 });
  const observer = useRef<ResizeObserver | null>(null);
  const attach = useCallback((element: Element | null) => {
    observer.current?.disconnect();
    if (!element) return;
    observer.current = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize((old) => (old.width === width && old.height === height ? old : { width, height }));
    });
    observer.current.observe(element);
  }, []);
  return [attach, size];
}
