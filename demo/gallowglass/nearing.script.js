// The front between detail and painting draws near and away again. Space holds it where it is, and lets it go on.
const hills = material('Hills');
const reach = hills.reach;
let at = 0;
let goes = true;

onKey('Space', () => {
  goes = !goes;
  log(goes ? 'the front moves' : 'the front stands');
});

onTick((dt) => {
  if (!goes) return;
  at += dt;
  hills.reach = reach * (1 - 0.55 * Math.sin(at * 0.8));
});
