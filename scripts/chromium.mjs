// Chromium for the browser tests: Debian's package, where there is none.
import { existsSync } from 'node:fs';
import { run } from './prepare.mjs';

const places = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

export function ensureChromium() {
  if (process.env.CHROMIUM || places.some((place) => existsSync(place))) return;
  installPackages(['chromium', 'fonts-dejavu-core']);
}

/** What reads the text and the typefaces of a PDF, for the tests of reports; without it these are skipped by name. */
export function ensurePdfReader() {
  if (!existsSync('/usr/bin/pdftotext')) installPackages(['poppler-utils']);
}

/** Installs Debian packages where that is possible; where it is not, what needs them says so. */
export function installPackages(names) {
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) return;
  const install = () => run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...names]);
  process.stderr.write(`Installing ${names.join(', ')} …\n`);
  if (install() !== 0) {
    run('apt-get', ['update', '-qq']);
    install();
  }
}
