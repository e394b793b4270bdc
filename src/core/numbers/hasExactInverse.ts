/** True for powers of two whose inverse is an ordinary float: multiplying by it rounds as dividing does, and is quicker. */
export const hasExactInverse = (x: number): boolean => {
  const power = Math.log2(Math.abs(x));
  return Number.isInteger(power) && Math.abs(power) < 126;
};
