// The damask stands out beyond its weave, and is pressed in below it.
const wall = material('Damask wall');
let seconds = 0;

onTick((dt) => {
  seconds += dt;
  wall.amount = 0.5 + 1.5 * Math.cos(seconds * 0.7);
});
