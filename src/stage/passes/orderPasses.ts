import type { BufferName, Frame, PassDeclaration } from './pass.ts';

type Ordered = Pick<PassDeclaration, 'name' | 'reads' | 'writes' | 'adds'>;

/**
 * The passes that a frame needs, each after what it reads: whoever makes a buffer comes before whoever adds to it, and
 * both before whoever reads it.
 * @throws Error where nobody makes what is read, or passes wait for one another
 */
export const orderPasses = <P extends Ordered>(passes: readonly P[], frame: Frame): P[] => {
  const ordered: P[] = [];
  const waiting = new Set<P>();
  const bring = (buffer: BufferName, reader: P | null): void => {
    let isMade = false;
    for (const each of passes)
      if (!each.adds && each !== reader && each.writes.includes(buffer)) {
        isMade = true;
        visit(each);
      }
    if (!isMade) throw new Error(`${reader?.name ?? 'The picture'} reads ${buffer}, which no pass makes.`);
    // What adds to a buffer reads it too, and is not brought by another that does.
    if (reader?.adds && reader.writes.includes(buffer)) return;
    for (const each of passes)
      if (each.adds && each !== reader && each.writes.includes(buffer) && each.adds(frame)) visit(each);
  };
  const visit = (pass: P): void => {
    if (ordered.includes(pass)) return;
    if (waiting.has(pass)) throw new Error(`The pass ${pass.name} waits for itself.`);
    waiting.add(pass);
    for (const buffer of pass.reads(frame)) bring(buffer, pass);
    ordered.push(pass);
  };
  bring('picture', null);
  return ordered;
};
