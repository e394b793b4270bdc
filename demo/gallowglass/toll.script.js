// Space, or a click on the bell, swings it by its cue; the sweep begins at the fourteenth frame of that. A click on
// anything throws a spray of sparks from where it was hit.
onClick(({ prop: name, point, normal }) => {
  flourish('spray').at(point, normal);
  log(`${name} was struck`);
});
