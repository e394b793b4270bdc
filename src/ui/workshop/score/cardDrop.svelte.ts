/** What a dragged step is carried as. */
export const STEP = 'application/x-veil-step';

/** Takes another step that is dropped on a card: before it, or behind it. */
export const createCardDrop = (
  isOwn: (step: string) => boolean,
  ondrop: (moved: string, after: boolean) => void,
) => {
  let side = $state<'before' | 'after' | null>(null);
  return {
    /** Where a step that is held over the card would go. */
    get side() {
      return side;
    },
    over: (event: DragEvent): void => {
      if (!event.dataTransfer?.types.includes(STEP)) return;
      event.preventDefault();
      const { left, width } = (event.currentTarget as HTMLElement).getBoundingClientRect();
      side = event.clientX < left + width / 2 ? 'before' : 'after';
    },
    leave: (): void => {
      side = null;
    },
    drop: (event: DragEvent): void => {
      const moved = event.dataTransfer?.getData(STEP);
      if (moved && !isOwn(moved)) ondrop(moved, side === 'after');
      side = null;
      event.preventDefault();
    },
  };
};
