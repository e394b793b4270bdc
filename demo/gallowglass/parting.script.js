// Space parts the rods and closes them; the arc between them breaks where the gap is too great.
const [left, right] = [prop('Rod, house left'), prop('Rod, house right')];
const reach = 1.95;
let broken = false;
onTick(() => {
  const now = distance(left, right) > reach;
  if (now !== broken) log(now ? 'the arc breaks' : 'the arc is struck');
  broken = now;
});
