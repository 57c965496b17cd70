import fc from 'fast-check';

/**
 * What is made up at random is the same in every run of the tests, so that a change is not held to account for cases that
 * nobody saw before. With TAVROX_SEED set to another number it is other cases; `npm run proof` makes up its own.
 */
fc.configureGlobal({ seed: Number(process.env['TAVROX_SEED'] ?? 20_261_129) });
