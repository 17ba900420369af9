/** Writes docs/bundle.schema.json: what a bundle holds, for other programs. */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { bundleJsonSchema } from '../src/core/formats/bundleSchema';

writeFileSync(path.resolve(__dirname, '../docs/bundle.schema.json'), `${JSON.stringify(bundleJsonSchema(), null, 1)}\n`);
