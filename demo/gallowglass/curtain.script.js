// Space lights the curtain; Space again, even mid-way, and it mends.
// Each way has its own speed and its own embers, and every new fire burns in another order.
// N weaves another order while it burns: a new seed and a new period. G burns by noise, from the hem up, or by the picture.
// B burns it by the cue “burn” in place of this, whose way back has its own pace and embers.
const curtain = material('Velvet, house left');
let direction = 0;

onKey('Space', () => {
  const whole = curtain.burn <= 0;
  direction = direction > 0 || (direction === 0 && curtain.burn >= 1) ? -1 : 1;
  curtain.mending = direction > 0 ? 0 : 1;
  if (whole) curtain.seed = random.integer(0, 9999);
  log(direction > 0 ? 'burning' : 'mending');
});

onKey('KeyN', () => {
  curtain.seed = random.integer(0, 9999);
  curtain.period = random.integer(3, 16);
});

onKey('KeyG', () => {
  curtain.orderBy = (curtain.orderBy + 1) % 3;
});

onTick((dt) => {
  // Until Space was pressed the cue has it: B burns it, and B again mends it.
  if (direction === 0) return;
  const speed = direction > 0 ? curtain.speed : curtain.mendSpeed;
  curtain.burn = clamp(curtain.burn + direction * speed * dt, 0, 1);
});
