// Strikes land on the sheet one after another, eight of them at most at once. Space strikes it at its middle.
const sheet = material('Thunder steel');
const names = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'];
const strikes = names.map((name) => sheet[name]);
let next = 0;
let wait = 0;

const strike = (x, y) => {
  strikes[next] = [x, y, 0, 0];
  next = (next + 1) % names.length;
};

onKey('Space', () => {
  strike(0, 1.3);
  log('struck');
});

onTick((dt) => {
  wait -= dt;
  if (wait <= 0) {
    strike((Math.random() - 0.5) * 1.8, 0.65 + Math.random() * 1.4);
    wait = 0.25 + Math.random() * 0.9;
  }
  for (let i = 0; i < names.length; i += 1) {
    const [x, y, z, age] = strikes[i];
    strikes[i] = [x, y, z, age < 0 || age > sheet.life ? -1 : age + dt];
    sheet[names[i]] = strikes[i];
  }
});
