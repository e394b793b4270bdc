import { afterEach, beforeEach } from 'node:test';
import type { FromTextureMaker, ToTextureMaker } from '../../../workers/texture.worker.ts';

type Asked = Extract<ToTextureMaker, { type: 'preview' | 'near' }>;

/** Stands in for the worker that makes textures: keeps what it was asked for, and answers when it is told to. */
export class Maker {
  /** All that were started in a test. */
  static all: Maker[] = [];
  onmessage: ((event: { data: FromTextureMaker }) => void) | null = null;
  onerror: ((event: { message: string; preventDefault: () => void }) => void) | null = null;
  readonly asked: Asked[] = [];
  isEnded = false;
  constructor() {
    Maker.all.push(this);
  }
  postMessage(message: ToTextureMaker): void {
    if (message.type === 'preview' || message.type === 'near') this.asked.push(message);
  }
  terminate(): void {
    this.isEnded = true;
  }
  answer(data: object): void {
    const { ask, id } = this.asked.at(-1)!;
    this.onmessage!({ data: { ask, id, ...data } as FromTextureMaker });
  }
  break(message: string): void {
    this.onerror!({ message, preventDefault: () => undefined });
  }
}

/** Has workers be such in every test of a file. */
export const withMakers = (): void => {
  const real = globalThis.Worker;
  beforeEach(() => {
    Maker.all = [];
    globalThis.Worker = Maker as unknown as typeof Worker;
  });
  afterEach(() => {
    globalThis.Worker = real;
  });
};
