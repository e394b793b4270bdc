// The lamp has been pushed: its oil leans the other way, and settles. Space pushes it again.
const oil = material('Oil');
let leanX = 0.5;
let leanZ = 0.1;
let rateX = 0;
let rateZ = 0;

onKey('Space', () => {
  rateX += (Math.random() - 0.5) * 9;
  rateZ += (Math.random() - 0.5) * 9;
  log('pushed');
});

onTick((dt) => {
  rateX += (-46 * leanX - 2.2 * rateX) * dt;
  rateZ += (-46 * leanZ - 2.2 * rateZ) * dt;
  leanX = clamp(leanX + rateX * dt, -0.8, 0.8);
  leanZ = clamp(leanZ + rateZ * dt, -0.8, 0.8);
  oil.tilt = [leanX, leanZ];
});
