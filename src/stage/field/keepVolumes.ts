import type { Volume } from '#core/meshes/volume.ts';

/** Volumes are kept in the browser from one visit to the next, by what they were baked of. */
const NAME = 'veil-distances';
const STORE = 'volumes';
/** Raised where keys are made another way: what was kept under the old ones is deleted. */
const VERSION = 2;
/** More than this are let go of, all at once: they are baked again in a second each. */
const MOST = 256;

const asPromise = <T>(request: IDBRequest<T>): Promise<T> =>
  new Promise((resolve, reject) => {
    request.onsuccess = () => resolve(request.result);
    request.onerror = () => reject(request.error ?? new Error('The browser keeps nothing.'));
  });
const open = (): Promise<IDBDatabase> => {
  const request = indexedDB.open(NAME, VERSION);
  request.onupgradeneeded = () => {
    if (request.result.objectStoreNames.contains(STORE)) request.result.deleteObjectStore(STORE);
    request.result.createObjectStore(STORE);
  };
  return asPromise(request);
};

/** What was kept, or null: also where the browser keeps nothing. */
export const keptVolume = async (key: string): Promise<Volume | null> => {
  try {
    const database = await open();
    const found = await asPromise(
      database.transaction(STORE).objectStore(STORE).get(key) as IDBRequest<Volume | undefined>,
    );
    database.close();
    return found ?? null;
  } catch {
    return null;
  }
};

/** Keeps a volume, where the browser lets it. */
export const keepVolume = async (key: string, volume: Volume): Promise<void> => {
  try {
    const database = await open();
    const store = database.transaction(STORE, 'readwrite').objectStore(STORE);
    if ((await asPromise(store.count())) >= MOST) store.clear();
    await asPromise(store.put(volume, key));
    database.close();
  } catch {
    // Baked again the next time.
  }
};
