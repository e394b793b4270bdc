import type { Face } from './face.ts';

/** The faces there are: a quarter of a megabyte, which is brought where letters are asked for. */
export const FACES = ['sans', 'bold', 'mono'] as const;

const arrived = new Map<string, Face>();

/** A face that has been brought; undefined until it is here. */
export const faceHere = (name: string): Face | undefined => arrived.get(name);
export const arriveFace = (name: string, face: Face): void => void arrived.set(name, face);
