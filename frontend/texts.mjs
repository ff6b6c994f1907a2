// Gathers every text of the page in texts/en/page.po. Ends with 1 where that changed something: the file is to be
// committed with the change that made it.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

const FILE = '../texts/en/page.po';
const before = readFileSync(FILE, 'utf8');
execFileSync('npx', ['lingui', 'extract', '--clean'], { stdio: ['ignore', 'ignore', 'inherit'] });
if (readFileSync(FILE, 'utf8') !== before) {
  console.error(`The page's texts have changed: ${FILE} was gathered anew.`);
  process.exit(1);
}
