import type { Command } from 'commander';
import { inWorkspace } from '#cli/in-store.ts';
import { note, print, printJson, tableLines } from '#cli/output.ts';
import { TOKEN_SCOPES, type TokenEntry, type TokenScope } from '#core/6-exchange/api/wire.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { defaultDataFolder } from '#server/serve.ts';
import { addToken, listTokens, revokeToken } from '#server/store/tokens.ts';

interface TokenFlags {
  scope: string;
  data?: string;
  json?: boolean;
}

/** Tokens of people and machines that come to this house. */
export function addTokenCommand(program: Command): void {
  program
    .command('token')
    .description('who may come to this house from elsewhere: makes a token, lists them all, or revokes one')
    .argument('<add|list|revoke>', 'what to do')
    .argument('[name]', 'whose it is')
    .option('--scope <scope>', `what it allows: ${TOKEN_SCOPES.join(', ')}`, 'read')
    .option('--data <folder>', 'data folder (default TAVROX_DATA or your own)')
    .option('--json', 'print JSON')
    .action(async (what: string, name: string | undefined, { scope, data = defaultDataFolder(), json }: TokenFlags) => {
      if (what === 'list') {
        const tokens = await inWorkspace<TokenEntry[]>(data, 'GET', '/api/tokens', undefined, listTokens);
        if (json) printJson(tokens);
        else tableLines(tokens.map(lineOf)).forEach(print);
        return;
      }
      if (name === undefined || name.trim() === '') throw badInput('name', 'name: say whose token it is.');
      if (what === 'add') {
        const allowed = TOKEN_SCOPES.find((one) => one === scope);
        if (!allowed) throw badInput('scope', `scope: “${scope}” is not known. Type ${TOKEN_SCOPES.join(' or ')}.`);
        const made = await add(data, name.trim(), allowed);
        if (json) printJson(made);
        else {
          print(made.token);
          note('It is told this once and kept nowhere: give it to whom it is for.');
        }
      } else if (what === 'revoke') {
        const tokens = await inWorkspace<TokenEntry[]>(data, 'GET', '/api/tokens', undefined, listTokens);
        const found = tokens.find((one) => one.name === name.trim() && one.revokedAt === null);
        if (!found) throw badInput('name', `name: no token that counts is called “${name}”.`);
        await inWorkspace(data, 'DELETE', `/api/tokens/${found.id}`, undefined, (db) => revokeToken(db, found.id));
        if (json) printJson({ revoked: found.id });
        else print(`The token of ${found.name} does not count any more.`);
      } else throw badInput('token', `token: “${what}” is not known. Type add, list or revoke.`);
    });
}

const add = (data: string, name: string, scope: TokenScope) =>
  inWorkspace<{ id: string; token: string }>(data, 'POST', '/api/tokens', { name, scope }, (db) =>
    addToken(db, name, scope),
  );

const lineOf = ({ name, scope, madeAt, usedAt, revokedAt }: TokenEntry): string[] => [
  name,
  scope,
  `made ${madeAt.slice(0, 10)}`,
  usedAt === null ? 'never used' : `used ${usedAt.slice(0, 10)}`,
  revokedAt === null ? 'counts' : 'revoked',
];
