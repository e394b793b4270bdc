/** A drag that is taken back where it was not meant: what there was when it began comes back. */
export const createDrag = <T>(value: () => T, onchange: (value: T) => void, onsettle: () => void) => {
  let before: { readonly value: T } | null = null;
  const release = (): void => {
    before = null;
    onsettle();
  };
  return {
    get held() {
      return before !== null;
    },
    begin: (event: PointerEvent): void => {
      before = { value: value() };
      (event.currentTarget as Element).setPointerCapture(event.pointerId);
    },
    release,
    /** Escape, or a pointer that was lost. */
    cancel: (): void => {
      if (!before) return;
      if (before.value !== value()) onchange(before.value);
      release();
    },
  };
};
