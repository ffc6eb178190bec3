import { mkdir, writeFile } from 'node:fs/promises';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';

const TYPE = `<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="application/x-gaveta-report+json">
    <comment>Report</comment>
    <glob pattern="*.report.json" weight="80"/>
  </mime-type>
</mime-info>
`;

/**
 * Has a Linux desktop list the application, and open files that end with “.report.json” in it (freedesktop.org: Desktop Entry,
 * Shared MIME-info). `update-mime-database` and `update-desktop-database` take it in. Gives what was written.
 */
export const installEntry = async (main: string, home = homedir()): Promise<string> => {
  const share = join(home, '.local', 'share');
  const entry = join(share, 'applications', 'gaveta-desktop.desktop');
  const type = join(share, 'mime', 'packages', 'gaveta-report.xml');
  const quoted = (text: string): string => `"${text.replace(/(["\\$`])/g, '\\$1')}"`;
  for (const file of [entry, type]) await mkdir(dirname(file), { recursive: true });
  await writeFile(type, TYPE);
  await writeFile(
    entry,
    `[Desktop Entry]
Type=Application
Name=Cumeeira reports
Exec=${quoted(process.execPath)} --import tsx ${quoted(main)} %F
MimeType=application/x-gaveta-report+json;
Categories=Office;
Terminal=false
`,
  );
  return `${entry}\n${type}`;
};
