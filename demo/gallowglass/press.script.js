// The type rises from the paper and sinks into it.
const bill = material('Bill of the night');
const full = bill.bump;
let seconds = 0;

onTick((dt) => {
  seconds += dt;
  bill.bump = full * Math.cos(seconds * 0.8);
});
