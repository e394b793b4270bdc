import { newId } from '../../parts/newId.ts';

const MARK = 'wicked-veil.tab';
/** Where there are no locks: a tab not heard of for so long is gone; timers in the background may rest for a minute. */
const GONE_MS = 70_000;
const BEAT_MS = 20_000;

let own: string | null = null;

const read = (storage: Storage, key: string): string | null => {
  try {
    return storage.getItem(key);
  } catch {
    return null;
  }
};
const write = (storage: Storage, key: string, text: string): void => {
  try {
    storage.setItem(key, text);
  } catch {
    // Storage that is full or shut only makes a closed tab harder to tell from an open one.
  }
};

/** This tab's id: the same after it was loaded again, another in a tab that was made a copy of it. */
export const tabId = (): string => {
  if (own !== null) return own;
  const kept = read(sessionStorage, MARK);
  // A copied tab finds the id of the one it came from, which is still heard of.
  const isCopy = kept !== null && read(sessionStorage, `${MARK}.left`) !== kept;
  own = kept !== null && !isCopy ? kept : newId();
  write(sessionStorage, MARK, own);
  write(sessionStorage, `${MARK}.left`, '');
  // A lock is let go with the tab, however that ends; the browser has them only where the page is secure.
  const locks = navigator.locks as LockManager | undefined;
  void locks?.request(`${MARK}.${own}`, () => new Promise(() => undefined));
  const beat = (): void => write(localStorage, `${MARK}.${own!}`, String(Date.now()));
  beat();
  setInterval(beat, BEAT_MS);
  addEventListener('pagehide', () => {
    write(sessionStorage, `${MARK}.left`, own!);
    try {
      localStorage.removeItem(`${MARK}.${own!}`);
    } catch {
      // As above.
    }
  });
  addEventListener('pageshow', beat);
  return own;
};

/** Tells tabs that are open beside this one: what they have not saved is their own business. */
export const openTabs = async (): Promise<(tab: string) => boolean> => {
  const mine = tabId();
  const locks = navigator.locks as LockManager | undefined;
  if (locks) {
    const { held = [] } = await locks.query();
    const names = new Set(held.map((each) => each.name));
    return (tab) => tab !== mine && names.has(`${MARK}.${tab}`);
  }
  return (tab) => tab !== mine && Date.now() - Number(read(localStorage, `${MARK}.${tab}`) ?? 0) < GONE_MS;
};
