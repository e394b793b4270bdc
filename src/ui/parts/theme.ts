const KEY = 'wicked-veil.theme';
export type Theme = 'paper' | 'blackout';

/** The theme kept in this browser; paper until chosen otherwise. */
export const readTheme = (): Theme => {
  try {
    return localStorage.getItem(KEY) === 'blackout' ? 'blackout' : 'paper';
  } catch {
    return 'paper';
  }
};

export const applyTheme = (theme: Theme): void => {
  document.documentElement.dataset['theme'] = theme;
  try {
    localStorage.setItem(KEY, theme);
  } catch {
    // A browser that keeps nothing still shows the theme until it is closed.
  }
};
