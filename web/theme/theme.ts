import { createTheme, type ColorSystemOptions } from '@mui/material/styles';
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

/** Nothing here may look like the library's default: hairlines, 4 px corners, no shadows, no capitals. */
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
        ':focus-visible': { outline: `2px solid ${ink('text')}`, outlineOffset: 2 },
        // Names and numbers of charts may stand over their edges.
        '.recharts-surface': { overflow: 'visible' },
        '::selection': { background: ink('text'), color: ink('page') },
        '@media (prefers-reduced-motion: reduce)': {
          '*': { animation: 'none !important', transition: 'none !important' },
        },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { fontFamily: 'inherit', fontVariantNumeric: 'inherit' } },
    },
    MuiButton: {
      defaultProps: { disableElevation: true },
      styleOverrides: {
        root: {
          minHeight: 34,
          padding: '5px 15px',
          whiteSpace: 'nowrap',
          flexShrink: 0,
          '&:focus-visible': { outline: `2px solid ${ink('text')}`, outlineOffset: 2 },
        },
        outlined: {
          borderColor: ink('rule'),
          backgroundColor: ink('raised'),
          color: ink('text'),
          '&:hover': { borderColor: ink('second'), backgroundColor: ink('raised') },
        },
        text: {
          padding: '3px 6px',
          minWidth: 0,
          color: ink('text'),
          textDecoration: 'underline',
          textDecorationColor: ink('third'),
          textUnderlineOffset: 3,
          '&:hover': { background: 'none', textDecorationColor: ink('text') },
        },
      },
    },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiDrawer: { styleOverrides: { paper: { borderLeft: `1px solid ${ink('rule')}`, width: 460, maxWidth: '92vw' } } },
    MuiBackdrop: { styleOverrides: { root: { backgroundColor: 'rgba(0,0,0,.45)' } } },
    MuiOutlinedInput: {
      styleOverrides: {
        root: {
          backgroundColor: ink('page'),
          '& .MuiOutlinedInput-notchedOutline': { borderColor: ink('rule') },
          '&:hover .MuiOutlinedInput-notchedOutline': { borderColor: ink('second') },
          '&.Mui-focused .MuiOutlinedInput-notchedOutline': { borderColor: ink('text'), borderWidth: 1 },
        },
        input: { padding: '8px 11px', fontSize: 14.5 },
      },
    },
    MuiMenu: {
      styleOverrides: {
        paper: { backgroundColor: ink('raised'), border: `1px solid ${ink('rule')}`, marginTop: 6, maxWidth: 420 },
      },
    },
    MuiSelect: {
      styleOverrides: {
        // The same small angle as everything that opens a list.
        icon: {
          fontSize: 0,
          width: 9,
          height: 9,
          right: 13,
          top: 'calc(50% - 7px)',
          borderRight: `1.5px solid ${ink('second')}`,
          borderBottom: `1.5px solid ${ink('second')}`,
          transform: 'rotate(45deg) scale(.72)',
          '& path': { display: 'none' },
        },
        iconOpen: { transform: 'rotate(45deg) scale(.72)' },
      },
    },
    MuiMenuItem: {
      styleOverrides: {
        root: {
          fontSize: 14,
          padding: '7px 14px',
          '&.Mui-selected': { backgroundColor: 'transparent', fontWeight: 700 },
        },
      },
    },
    MuiTooltip: {
      defaultProps: { disableInteractive: true },
      styleOverrides: {
        tooltip: {
          backgroundColor: ink('raised'),
          color: ink('text'),
          border: `1px solid ${ink('rule')}`,
          fontSize: 13,
          lineHeight: 1.45,
          padding: '7px 10px',
          maxWidth: 320,
        },
      },
    },
  },
});
