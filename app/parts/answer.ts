import { useEffect, useRef } from "react";

/**
 * Hears each answer of a fetcher once, as soon as the page stands that shows it. What a fetcher holds is no state of
 * React's: a render can come upon it before anything says that it came, and where such a render turns out to change
 * nothing, React leaves its effects out and takes what they depend on for seen. So every render that stands looks.
 */
export function useAnswer<T>(answer: T | undefined, hear: (answer: T) => void): void {
  const heard = useRef<T | undefined>(undefined);
  useEffect(() => {
    if (answer === undefined || heard.current === answer) return;
    heard.current = answer;
    hear(answer);
  });
}
