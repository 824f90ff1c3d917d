import type { GlobalThemeOverrides } from 'naive-ui'

/** One set of roles, two sheets: paper by day, ink by night. Everything on screen takes its colour from here. */
export const palettes = {
  light: {
    paper: '#f4f0e6',
    sheet: '#fbf8f1',
    ink: '#182838',
    soft: '#566270',
    hair: '#d3cab8',
    stop: '#b82f17',
    warn: '#855800',
    clear: '#1d6b58',
    data: '#2b5c8a',
    wash: '#dfe6ea',
    onInk: '#fbf8f1',
  },
  dark: {
    paper: '#131b24',
    sheet: '#18222d',
    ink: '#ece5d5',
    soft: '#a9b2ba',
    hair: '#3a4754',
    stop: '#ff8a70',
    warn: '#e2b04a',
    clear: '#6fc7ae',
    data: '#8ab8e6',
    wash: '#26394a',
    onInk: '#131b24',
  },
} as const
export type Palette = (typeof palettes)['light' | 'dark']

export const cssVariables = (p: Palette): Record<string, string> =>
  Object.fromEntries(Object.entries(p).map(([name, value]) => [`--${name}`, value]))

const heading = "'Barlow Condensed', 'Barlow', sans-serif"
const body = "'Barlow', system-ui, sans-serif"

/** Naive UI in our look: square, ruled, quiet. */
export function naiveOverrides(p: Palette): GlobalThemeOverrides {
  return {
    common: {
      primaryColor: p.ink,
      primaryColorHover: p.data,
      primaryColorPressed: p.ink,
      primaryColorSuppl: p.data,
      errorColor: p.stop,
      warningColor: p.warn,
      successColor: p.clear,
      infoColor: p.data,
      textColorBase: p.ink,
      textColor1: p.ink,
      textColor2: p.ink,
      textColor3: p.soft,
      placeholderColor: p.soft,
      bodyColor: p.paper,
      cardColor: p.sheet,
      modalColor: p.sheet,
      popoverColor: p.sheet,
      tableColor: p.sheet,
      inputColor: p.sheet,
      borderColor: p.soft,
      dividerColor: p.hair,
      hoverColor: p.wash,
      borderRadius: '1px',
      borderRadiusSmall: '1px',
      fontFamily: body,
      fontSize: '16px',
      heightMedium: '44px',
      heightSmall: '36px',
      heightLarge: '56px',
    },
    Button: {
      fontWeight: '600',
      textColorPrimary: p.onInk,
      textColorHoverPrimary: p.onInk,
      textColorPressedPrimary: p.onInk,
      textColorFocusPrimary: p.onInk,
      textColorError: p.onInk,
      textColorHoverError: p.onInk,
      textColorFocusError: p.onInk,
      textColorPressedError: p.onInk,
      textColorDisabledPrimary: p.onInk,
      fontSizeMedium: '16px',
      paddingMedium: '0 16px',
    },
    Input: { border: `1px solid ${p.soft}`, fontSizeMedium: '18px' },
    Select: { peers: { InternalSelection: { border: `1px solid ${p.soft}`, fontSizeMedium: '18px' } } },
    Modal: { peers: { Card: { titleFontSizeMedium: '22px', titleFontWeight: '600' } } },
    Card: { titleFontWeight: '600' },
    Radio: { buttonColorActive: p.ink, buttonTextColorActive: p.onInk, buttonBorderColorActive: p.ink },
    Tooltip: { color: p.ink, textColor: p.onInk },
    Switch: { railColorActive: p.ink },
    Typography: { headerFontWeight: heading },
  } as GlobalThemeOverrides
}
