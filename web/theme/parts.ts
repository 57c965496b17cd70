import type { Components, Theme } from '@mui/material/styles';
import { ink } from './tokens.ts';

/** What everything shows that was come to by keyboard. */
export const FOCUS = { outline: `2px solid ${ink('text')}`, outlineOffset: 2 } as const;
/** The same within its own edge, where something clips what is outside. */
export const FOCUS_INSIDE = { ...FOCUS, outlineOffset: -2 } as const;
/** Narrower than this, columns of figures that may give way do. */
const NARROW = 640;

/** Nothing here may look like the library's default: hairlines, 4 px corners, no shadows, no capitals. */
export const PARTS: Components<Theme> = {
  MuiButtonBase: {
    defaultProps: { disableRipple: true },
    styleOverrides: {
      root: { fontFamily: 'inherit', fontVariantNumeric: 'inherit', '&:focus-visible': FOCUS },
    },
  },
  MuiButton: {
    defaultProps: { disableElevation: true },
    styleOverrides: {
      root: { minHeight: 34, padding: '5px 15px', whiteSpace: 'nowrap', flexShrink: 0 },
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
      multiline: { padding: 0 },
    },
  },
  MuiFormHelperText: { styleOverrides: { root: { marginInline: 0, color: ink('second') } } },
  MuiToggleButtonGroup: { styleOverrides: { root: { flexWrap: 'wrap' } } },
  MuiToggleButton: {
    styleOverrides: {
      root: {
        textTransform: 'none',
        fontSize: 14,
        padding: '5px 14px',
        color: ink('second'),
        borderColor: ink('rule'),
        '&.Mui-selected, &.Mui-selected:hover': {
          backgroundColor: ink('raised'),
          color: ink('text'),
          fontWeight: 650,
        },
      },
    },
  },
  MuiCheckbox: {
    defaultProps: { size: 'small', color: 'default' },
    styleOverrides: {
      root: { padding: '2px 8px 2px 0', color: ink('second'), '&.Mui-checked': { color: ink('text') } },
    },
  },
  MuiFormControlLabel: {
    styleOverrides: { root: { margin: '4px 0', alignItems: 'flex-start' }, label: { fontSize: 13.5, paddingTop: 2 } },
  },
  MuiSlider: {
    styleOverrides: {
      root: { color: ink('text'), padding: '8px 0' },
      rail: { height: 1, backgroundColor: ink('second'), opacity: 1 },
      track: { height: 3, border: 0 },
      thumb: { width: 8, height: 18, borderRadius: 2, boxShadow: 'none' },
    },
  },
  MuiLinearProgress: {
    styleOverrides: {
      root: { height: 5, backgroundColor: ink('rule') },
      bar: { backgroundColor: ink('text'), transition: 'none' },
      // How far is not known: a bar that stands still, for rooms in which nothing should move in the corner of an eye.
      bar1: ({ ownerState }) =>
        ownerState.variant === 'indeterminate' ? { animation: 'none', width: '100%', opacity: 0.45 } : {},
      bar2: { display: 'none' },
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
  MuiList: {
    styleOverrides: {
      root: {
        '&[data-boxed]': {
          height: 168,
          overflowY: 'auto',
          border: `1px solid ${ink('rule')}`,
          borderRadius: 4,
          marginTop: 6,
          flex: 'none',
        },
      },
    },
  },
  MuiMenuItem: {
    styleOverrides: {
      root: {
        fontSize: 14,
        padding: '7px 14px',
        '&.Mui-selected': { backgroundColor: 'transparent', fontWeight: 700 },
        // Lines of a list that one is chosen from; see kit/choices.tsx.
        '&[data-look]': {
          display: 'block',
          minHeight: 0,
          whiteSpace: 'normal',
          fontWeight: 400,
          '&:hover, &.Mui-selected': { backgroundColor: ink('raised') },
          '&:focus-visible': FOCUS_INSIDE,
        },
        '&[data-look=edge]': {
          padding: '5px 12px',
          borderLeft: '3px solid transparent',
          '&.Mui-selected': { borderLeftColor: ink('text') },
        },
        '&[data-look=frame]': {
          padding: '9px 12px',
          marginBottom: 6,
          borderRadius: 4,
          border: `1px solid ${ink('rule')}`,
          '&:hover': { borderColor: ink('second') },
          '&.Mui-selected': { borderColor: ink('text') },
        },
        '&[data-look=row]': {
          display: 'flex',
          justifyContent: 'space-between',
          gap: 16,
          padding: '0 10px',
          height: 28,
          fontSize: 13.5,
          '&.Mui-selected': { fontWeight: 650 },
        },
      },
    },
  },
  // A doubt behind its hatched square; see Doubts in kit/words.tsx.
  MuiListItem: { styleOverrides: { root: { padding: '0 0 6px', alignItems: 'flex-start', gap: 10 } } },
  MuiListItemIcon: {
    styleOverrides: {
      root: {
        flex: 'none',
        minWidth: 0,
        width: 11,
        height: 11,
        marginTop: 4,
        background: `repeating-linear-gradient(45deg, ${ink('text')} 0 1.5px, transparent 1.5px 4px)`,
      },
    },
  },
  MuiListItemText: {
    styleOverrides: {
      root: { margin: 0 },
      primary: {
        fontSize: 14,
        lineHeight: 1.5,
        overflowWrap: 'anywhere',
        '.Mui-selected &': { fontWeight: 650 },
        '[data-doubts] &': { fontSize: 13.5, lineHeight: 1.45, color: ink('second') },
      },
      secondary: {
        fontSize: 12.5,
        lineHeight: 1.4,
        color: ink('second'),
        '[data-boxed] &': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
      },
    },
  },
  MuiAlert: {
    defaultProps: { severity: 'error', icon: false },
    styleOverrides: {
      root: {
        color: ink('breaks'),
        backgroundColor: 'transparent',
        borderLeft: `2px solid ${ink('breaks')}`,
        borderRadius: 0,
        padding: '0 0 0 10px',
        margin: '8px 0',
        fontSize: 13.5,
        lineHeight: 1.5,
      },
      message: { padding: 0, overflow: 'visible' },
    },
  },
  MuiTableContainer: { styleOverrides: { root: { flex: 'none', overflowX: 'visible', containerType: 'inline-size' } } },
  // Figures in lines: the first column names, the rest are numbers at their right edge.
  MuiTableCell: {
    defaultProps: { align: 'right' },
    styleOverrides: {
      root: {
        fontSize: 14,
        lineHeight: 'inherit',
        height: 34,
        padding: '0 8px',
        whiteSpace: 'nowrap',
        borderBottom: 0,
        borderTop: `1px solid ${ink('rule')}`,
        '&:first-of-type': {
          textAlign: 'left',
          paddingLeft: 0,
          maxWidth: 240,
          overflow: 'hidden',
          textOverflow: 'ellipsis',
        },
        '&:last-of-type': { paddingRight: 0 },
        // Every cell a choice of its own, between names at the top and at the left.
        '[data-grid] td&': { padding: 0, height: 46, whiteSpace: 'normal', border: `1px solid ${ink('rule')}` },
        '[data-grid] th&': { border: 0, padding: '4px 6px', overflow: 'hidden', textOverflow: 'ellipsis' },
        '[data-grid] th&:not(:first-of-type), [data-grid] tbody th&': {
          fontWeight: 650,
          fontSize: 13,
          color: ink('text'),
          textAlign: 'center',
        },
        '[data-grid] tbody th&': { textAlign: 'left', maxWidth: 0 },
        [`@container (max-width: ${NARROW}px)`]: { '&[data-wide-only]': { display: 'none' } },
      },
      head: { fontWeight: 400, fontSize: 12.5, color: ink('second'), height: 'auto', paddingBottom: 2, border: 0 },
    },
  },
  MuiTooltip: {
    defaultProps: { describeChild: true, disableInteractive: true, enterDelay: 400 },
    styleOverrides: {
      tooltip: {
        backgroundColor: ink('raised'),
        color: ink('text'),
        border: `1px solid ${ink('rule')}`,
        fontSize: 13,
        lineHeight: 1.45,
        padding: '7px 10px',
        maxWidth: 320,
        whiteSpace: 'pre-line',
      },
    },
  },
};
