// Must be reported by the layer check: the core may import neither the file system nor the interface.
import { readFileSync } from 'node:fs';
import { formatLength } from '../../../../src/ui/common/format';

export const leak = [readFileSync, formatLength];
