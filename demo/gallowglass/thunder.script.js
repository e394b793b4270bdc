// Strikes land on the sheet one after another, eight of them at most at once, and each ring dies by itself. Space strikes
// the sheet at its middle, a click where it lands.
const sheet = material('Thunder steel');
const rings = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'];
const turns = rings.map(() => 0);
let next = 0;

// A ring ages until it has died, or its place is struck anew.
const ring = async (at, x, y, age) => {
  turns[at] += 1;
  const turn = turns[at];
  const set = (now) => {
    if (turns[at] === turn) sheet[rings[at]] = [x, y, 0, now];
  };
  await tween(age, sheet.life, sheet.life - age, set, 'straight');
  set(-1);
};
const strike = (x, y) => {
  ring(next, x, y, 0);
  next = (next + 1) % rings.length;
};

onKey('Space', () => {
  strike(0, 1.3);
  log('struck');
});
onClick(prop('Thunder sheet'), ({ point: [x, y] }) => {
  strike(x, y);
  log('struck by hand');
});

// What rings already goes on.
rings.forEach((name, at) => {
  const [x, y, , age] = sheet[name];
  if (age >= 0 && age < sheet.life) ring(at, x, y, age);
});
(async () => {
  for (;;) {
    await wait(random.between(0.25, 1.15));
    strike(random.between(-0.9, 0.9), random.between(0.65, 2.05));
  }
})();
