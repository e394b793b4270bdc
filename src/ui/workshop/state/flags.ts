/** How an author likes the workshop, kept in this browser. */
export const readFlag = (name: string): boolean => {
  try {
    return localStorage.getItem(name) === 'yes';
  } catch {
    return false;
  }
};
export const keepFlag = (name: string, on: boolean): void => {
  try {
    localStorage.setItem(name, on ? 'yes' : 'no');
  } catch {
    // A browser that keeps nothing shows it as it is by default.
  }
};
