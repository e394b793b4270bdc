/** Gives a card the focus, where it is there. */
export const focusStep = (id: string): void =>
  document.querySelector<HTMLElement>(`[data-step="${id}"]`)?.focus();
