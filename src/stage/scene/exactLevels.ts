import { DataTexture, HalfFloatType, UnsignedByteType } from 'three';
import type { FromLeveller, Level, ToLeveller } from './levels.worker.ts';

interface Waiting {
  readonly told: (levels: readonly Level[]) => void;
  readonly refused: (why: Error) => void;
}
/** All stages share one: it goes once nothing is asked of it. */
let worker: Worker | null = null;
let asked = 0;
const waiting = new Map<number, Waiting>();

const rest = (): void => {
  if (waiting.size) return;
  worker?.terminate();
  worker = null;
};
const start = (): Worker => {
  const made = new Worker(new URL('./levels.worker.ts', import.meta.url), { type: 'module' });
  made.onmessage = ({ data }: MessageEvent<FromLeveller>): void => {
    const found = waiting.get(data.ask);
    waiting.delete(data.ask);
    if ('levels' in data) found?.told(data.levels);
    else found?.refused(new Error(data.refused));
    rest();
  };
  made.onerror = (event): void => {
    event.preventDefault();
    for (const { refused } of waiting.values()) refused(new Error(event.message));
    waiting.clear();
    rest();
  };
  return made;
};

/** A picture's levels as they should be: made in a worker from its numbers, which no canvas has touched. */
const levelsOf = (wanted: Omit<ToLeveller, 'ask'>): Promise<readonly Level[]> =>
  new Promise((told, refused) => {
    asked += 1;
    waiting.set(asked, { told, refused });
    worker ??= start();
    worker.postMessage({ ask: asked, ...wanted } satisfies ToLeveller);
  });

/** A texture of a picture's own levels; it has nothing in it until they are here. */
export const exactTexture = (
  wanted: Omit<ToLeveller, 'ask'>,
  events: { readonly onLoaded: () => void; readonly onFailed: () => void },
): DataTexture => {
  const texture = new DataTexture();
  texture.type = wanted.bits === 8 ? UnsignedByteType : HalfFloatType;
  texture.unpackAlignment = 1;
  levelsOf(wanted).then((levels) => {
    const [first] = levels;
    texture.image = first!;
    texture.mipmaps = [...levels];
    texture.needsUpdate = true;
    events.onLoaded();
  }, events.onFailed);
  return texture;
};
