// Puts what a reader of the package needs beside it: the pages of the documentation, without their pictures.
import { copyFileSync, cpSync, rmSync } from 'node:fs';

for (const file of ['CHANGELOG.md', 'LICENSE']) copyFileSync(`../../${file}`, file);
rmSync('docs', { recursive: true, force: true });
cpSync('../../docs', 'docs', { recursive: true, filter: (path) => !path.endsWith('screenshots') });
