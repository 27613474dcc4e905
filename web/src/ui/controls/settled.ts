import { useEffect, useState } from "react";

/** A value once it has rested for so many milliseconds: what a drag asks the server for only where it ends. */
export function useSettled<T>(value: T, restMs: number): T {
  const [settled, setSettled] = useState(value);
  const key = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(JSON.parse(key) as T), restMs);
    return () => clearTimeout(timer);
  }, [key, restMs]);
  return settled;
}
