/** Times a loop may go round. */
export const MOST_ROUNDS = 4096;

/** Elements an array may have, also where it runs as it is written. */
export const MOST_ELEMENTS = 4096;
