// Must be reported by the layer check: the core may import neither the file system nor the interface.
import { readFileSync } from 'node:fs';
import { STARTER } from '../../../../src/ui/canaryTarget';

export const leak = [readFileSync, STARTER];
