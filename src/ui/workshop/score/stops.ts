import { flushSync } from 'svelte';

/** What of the score can have the focus, by what it stands for: a step’s id, or a key of its own. */
const stops = new Map<string, HTMLElement>();

/** The button behind a strand’s last step. */
export const addStop = (strand: string): string => `add ${strand}`;
/** A strand’s row, where its cards are not shown. */
export const rowStop = (strand: string): string => `row ${strand}`;
export const propStop = (prop: string): string => `prop ${prop}`;
export const partStop = (part: string): string => `part ${part}`;
export const parameterStop = (name: string): string => `parameter ${name}`;

/** Attached to an element, makes it the stop of that key for as long as it is there. */
export const isStop = (key: string) => (element: Element) => {
  stops.set(key, element as HTMLElement);
  return () => {
    if (stops.get(key) === element) stops.delete(key);
  };
};

/** Brings what is left out of a long score, because it is out of sight, into the page. */
let bring: ((key: string) => void) | null = null;
export const bringsStops = (how: (key: string) => void) => () => {
  bring = how;
  return () => {
    if (bring === how) bring = null;
  };
};

/** The element of a stop; one that is left out of the page is brought into it. */
export const stopOf = (key: string): HTMLElement | undefined => {
  if (!stops.has(key) && bring) {
    bring(key);
    flushSync();
  }
  return stops.get(key);
};
export const focusStop = (key: string): void => stopOf(key)?.focus();
/** Gives a step’s card the focus, where it is there. */
export const focusStep: (step: string) => void = focusStop;

/**
 * Gives the focus to a step that what was just done makes or moves: at once, so that the next key is that card's and
 * nobody else's.
 */
export const focusNow = (step: string): void => {
  flushSync();
  focusStep(step);
};
