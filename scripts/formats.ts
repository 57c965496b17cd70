import { writeFileSync } from 'node:fs';
import { format } from 'prettier';
import { commandsPage } from '#cli/commands-page.ts';
import { createProgram } from '#cli/program.ts';
import { PUBLISHED_FORMATS } from '#core/6-exchange/api/published.ts';

/** npm run formats: writes the JSON Schemas of docs/formats from the schemas that check the documents, and docs/commands.md from the commands. */
for (const { file, schema } of PUBLISHED_FORMATS) {
  writeFileSync(`docs/formats/${file}`, await format(JSON.stringify(schema), { parser: 'json', printWidth: 120 }));
}
writeFileSync('docs/commands.md', commandsPage(createProgram()));
