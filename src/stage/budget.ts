/** How finely the stage is drawn: pixels per CSS pixel's share, and samples per pixel. */
export interface Quality {
  readonly scale: number;
  readonly samples: number;
}

export const QUALITIES: readonly Quality[] = [
  { scale: 1, samples: 4 },
  { scale: 1, samples: 0 },
  { scale: 0.75, samples: 0 },
  { scale: 0.5, samples: 0 },
  { scale: 0.35, samples: 0 },
];

/** The best of them, for a picture that rests, and the best for one that moves. */
export const BEST = 0;
export const PLAIN = 1;

/** A frame longer than this is late. */
const LATE_MS = 30;
/** A frame shorter than this leaves room for more. */
const EASY_MS = 12;

export interface Budget {
  /** Which of the qualities to draw the next frame of a run with. */
  readonly level: number;
  readonly late: number;
  readonly easy: number;
}

export const startBudget: Budget = { level: PLAIN, late: 0, easy: 0 };
/** Where no graphics card draws, a first frame at full size is sure to be late. */
export const startCoarse: Budget = { level: QUALITIES.length - 1, late: 0, easy: 0 };

/** Takes in how long a frame took and decides how the next is drawn: quick to yield, slow to reach for more. */
export const spend = (budget: Budget, milliseconds: number): Budget => {
  if (milliseconds > LATE_MS) {
    const late = budget.late + 1;
    const worst = QUALITIES.length - 1;
    // Far too late needs no second look.
    const far = milliseconds > 3 * LATE_MS;
    return (late >= 2 || far) && budget.level < worst
      ? { level: Math.min(budget.level + (far ? 2 : 1), worst), late: 0, easy: 0 }
      : { ...budget, late, easy: 0 };
  }
  const easy = milliseconds < EASY_MS ? budget.easy + 1 : 0;
  return easy > 60 && budget.level > PLAIN
    ? { level: budget.level - 1, late: 0, easy: 0 }
    : { ...budget, late: 0, easy };
};
