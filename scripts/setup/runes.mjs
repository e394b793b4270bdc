// node --import tsx --import ./scripts/setup/runes.mjs: Node loads modules with runes (.svelte.ts) too.
import { register } from 'node:module';

register('./compileRunes.mjs', import.meta.url);
