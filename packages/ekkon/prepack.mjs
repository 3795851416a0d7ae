// Copies the pages of the documentation into the package, without their pictures.
import { copyFileSync, cpSync, rmSync } from 'node:fs';

for (const file of ['CHANGELOG.md', 'LICENSE']) copyFileSync(`../../${file}`, file);
rmSync('docs', { recursive: true, force: true });
cpSync('../../docs', 'docs', { recursive: true, filter: (path) => !path.endsWith('screenshots') });
