import chance from './chance.js?raw';
import cues from './cues.js?raw';
import host from './host.js?raw';
import { joinPrelude } from './joined.ts';
import parameters from './parameters.js?raw';
import running from './running.js?raw';
import frozen from './frozen.js?raw';
import things from './things.js?raw';
import waiting from './waiting.js?raw';
import words from './words.js?raw';

const TEXTS = { host, chance, parameters, things, waiting, cues, words, running, frozen };

/** The prelude, for a worker of the page. */
export const prelude = joinPrelude((part) => TEXTS[part]);
