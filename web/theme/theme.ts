import { createTheme, type ColorSystemOptions } from '@mui/material/styles';
import { FOCUS, PARTS } from './parts.ts';
import { TOKENS, ink, tokenDeclarations, type Tokens } from './tokens.ts';

export const FONT_FAMILY = "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif";

function scheme(tokens: Tokens): ColorSystemOptions {
  return {
    palette: {
      primary: { main: tokens.text, contrastText: tokens.page },
      error: { main: tokens.breaks },
      background: { default: tokens.page, paper: tokens.rail },
      text: { primary: tokens.text, secondary: tokens.second },
      divider: tokens.rule,
    },
  };
}

/** What is printed is printed in ink, whatever the page looks like. */
const PAPER = {
  ...tokenDeclarations({ ...TOKENS.light, page: '#ffffff', rail: '#ffffff' }),
  '--mui-palette-text-primary': TOKENS.light.text,
  '--mui-palette-text-secondary': TOKENS.light.second,
  '--mui-palette-background-default': '#ffffff',
};

/** The theme of the page; the looks of single parts are in parts.ts. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data' },
  colorSchemes: { dark: scheme(TOKENS.dark), light: scheme(TOKENS.light) },
  defaultColorScheme: 'dark',
  shape: { borderRadius: 4 },
  shadows: Array(25).fill('none') as never,
  typography: {
    fontFamily: FONT_FAMILY,
    fontSize: 14,
    h1: { fontSize: 19, fontWeight: 700, lineHeight: 1.3 },
    h2: { fontSize: 15, fontWeight: 700, lineHeight: 1.35 },
    body1: { fontSize: 15, lineHeight: 1.55 },
    body2: { fontSize: 13.5, lineHeight: 1.5 },
    caption: { fontSize: 12.5, lineHeight: 1.4 },
    button: { textTransform: 'none', fontWeight: 650, fontSize: 14 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        '[data-dark]': tokenDeclarations(TOKENS.dark),
        '[data-light]': tokenDeclarations(TOKENS.light),
        'html, body, #root': { height: '100%' },
        body: { fontVariantNumeric: 'tabular-nums', overflow: 'hidden' },
        ':focus-visible': FOCUS,
        // Names and numbers of charts may stand over their edges.
        '.recharts-surface': { overflow: 'visible' },
        '::selection': { background: ink('text'), color: ink('page') },
        // On paper: ink on white, what a place shows and says in one column, nothing that is pressed.
        '@media print': {
          '@page': { size: 'A4 landscape', margin: '12mm' },
          ':root[data-dark], :root[data-light]': PAPER,
          body: { color: `${TOKENS.light.text} !important` },
          '*': { overflow: 'visible !important', printColorAdjust: 'exact' },
          'html, body, #root, #root div:has(main), main, main ~ aside, .keeps-height': {
            display: 'block !important',
            height: 'auto !important',
            width: 'auto !important',
          },
          // A picture keeps the size that it was drawn at.
          '.drawn': { position: 'relative !important' },
          'table, .drawn': { breakInside: 'avoid' },
          'nav, #root header, .not-printed, .MuiButton-root, .MuiSlider-root, .MuiToggleButtonGroup-root, [role=slider], [role=radiogroup]':
            { display: 'none !important' },
        },
        '@media (prefers-reduced-motion: reduce)': {
          '*': { animation: 'none !important', transition: 'none !important' },
        },
      },
    },
    ...PARTS,
  },
});
