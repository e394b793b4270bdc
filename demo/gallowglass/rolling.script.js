// One shared value bends all of it: the boards lie down and roll up again. Space holds them.
const planks = material('Planks');
const deep = planks.rollDepth;
let going = 1;
let at = 0;

onKey('Space', () => {
  going = 1 - going;
  log(going ? 'rolling' : 'held');
});

onTick((dt) => {
  at += dt * going;
  planks.rollDepth = deep * (0.5 + 0.5 * Math.cos(at * 0.8));
});
