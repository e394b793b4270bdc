import { existsSync } from 'node:fs';
import type { PackedPart } from '#core/handover/archive.ts';
import { formatNumber } from '#core/numbers/format.ts';
import { compareMarks, differenceText, keyName, type ExportedTake } from '#core/time/takes.ts';
import { TICKS_PER_SECOND } from '#core/time/tick.ts';
import { startOf } from '#script/startOf.ts';
import type { Finding } from '../answer.ts';
import { needFile, Refusal, textOf, type Command } from '../command.ts';
import { projectAt } from '../project.ts';
import { playInThread } from '../playInThread.ts';
import { writeFile } from '../outputs.ts';

type PackedTake = Extract<PackedPart, { kind: 'take' }>;

export const rehearse: Command = {
  usage: 'rehearse PROJECT [--take NAME] [--values FILE.json] [--force]',
  summary: 'Plays recorded takes again, with scripts, cues and rules, and compares every number.',
  help: `PROJECT is what a project was exported to, as .zip or unpacked. All takes are played, or the one named. A take that comes out
otherwise ends with 1, and says from which second on, and what. --values writes what was driven, tick by tick as it
changed, of one take.

  veil rehearse playhouse.zip --take "Kindled twice"`,
  options: {
    take: { type: 'string' },
    values: { type: 'string' },
    force: { type: 'boolean' },
  },
  most: 1,
  run: async (given) => {
    const path = needFile(given);
    const { parts } = projectAt(path);
    const all = parts.filter((each): each is PackedTake => each.kind === 'take');
    const name = textOf(given, 'take');
    const takes = name === undefined ? all : all.filter((each) => each.name === name);
    if (!takes.length)
      throw new Refusal(
        name === undefined
          ? `${path}: there is no take in this project.`
          : `--take should be one of ${all.map((each) => each.name).join(', ') || 'no take at all: there is none'}, not “${name}”.`,
        name === undefined ? 1 : 2,
      );
    const to = textOf(given, 'values');
    if (to !== undefined && takes.length > 1)
      throw new Refusal('--values is of one take; name it with --take.', 2);
    const props = parts.flatMap((each) => (each.kind === 'stage' ? each.body.props : []));
    const layers = parts.flatMap((each) =>
      each.kind === 'stage' ? (each.body.flourishes ?? []).flatMap((flourish) => flourish.layers) : [],
    );
    const nameOf = (key: string): string =>
      keyName(key, {
        part: (id) => parts.find((each) => each.id === id)?.name,
        prop: (id) => props.find((each) => each.id === id)?.name,
        layer: (id) => layers.find((each) => each.id === id)?.name,
      });
    const findings: Finding[] = [];
    const lines: string[] = [];
    const told: { name: string; seconds: number; same: boolean }[] = [];
    for (const take of takes) {
      const set = parts.find((each) => each.id === take.body.set);
      const wrong = (message: string) =>
        findings.push({ severity: 'mistake', file: path, message: `${take.name}: ${message}` });
      if (set?.kind !== 'stage') {
        wrong('The set that it was recorded on is not in this project.');
        continue;
      }
      const began = performance.now();
      const played = await playInThread({ take: take.body, start: startOf(parts, take.body.set) });
      const seconds = take.body.ticks / TICKS_PER_SECOND;
      const factor = seconds / ((performance.now() - began) / 1000);
      if (played.mistake)
        wrong(
          `The script ${played.mistake.name} went wrong${played.mistake.line ? ` in line ${played.mistake.line}` : ''}: ${played.mistake.message}`,
        );
      const differences = played.marks.length ? compareMarks(take.body.marks, played.marks) : [];
      for (const each of differences.slice(0, 8)) wrong(differenceText(each, nameOf));
      if (differences.length > 8) wrong(`${differences.length - 8} more numbers differ there.`);
      const same = !differences.length && !played.mistake;
      told.push({ name: take.name, seconds, same });
      if (same)
        lines.push(
          `${take.name}: ${formatNumber(seconds)} s, every number as it was, ${formatNumber(factor)} times as fast.`,
        );
      if (to !== undefined) {
        const made: ExportedTake = {
          ...{ format: 'wicked-veil/take-values', version: 1, ticksPerSecond: TICKS_PER_SECOND },
          ...{ inputs: take.body.inputs, changes: played.changes },
        };
        if (existsSync(to) && given.values['force'] !== true)
          throw new Refusal(`${to} is there already; --force writes over it.`, 2);
        writeFile(to, `${JSON.stringify(made)}\n`);
      }
    }
    return { findings, result: { takes: told }, remarks: lines };
  },
};
