#!/usr/bin/env node
// Starts the command line: TypeScript is read as it is, so nothing has to be built first.
import { register } from 'tsx/esm/api';

register();
await import('./main.ts');
