import presetWind3 from '@unocss/preset-wind3'
import { defineConfig } from '@unocss/vite'
import { palettes } from './src/theme.ts'

const SIDES: Record<string, string> = { t: '-top', r: '-right', b: '-bottom', l: '-left', a: '' }

/**
 * Utility classes by their common names, on the house's own sizes of type (`text-t3`), spaces (`gap-2`) and roles of colour (`text-soft`,
 * `stroke-data`). They weigh as much as a scoped rule, which comes after them and wins.
 */
export default defineConfig({
  presets: [presetWind3({ preflight: false, important: ':root' })],
  // words that mean something else in this house
  blocklist: ['b', 'outline', 'ring', 'filter'],
  theme: {
    colors: Object.fromEntries(Object.keys(palettes.light).map((name) => [name, `var(--${name})`])),
    spacing: Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [n, `var(--s${n})`])),
    // under it an upright tablet stands
    breakpoints: { wide: '1001px' },
  },
  rules: [
    [/^text-(t[1-6])$/, ([, size]) => ({ 'font-size': `var(--${size})` })],
    // words of the head's face: `head-t4`
    [/^head-(t[1-6])$/, ([, size]) => ({ font: `600 var(--${size}) var(--head)` })],
    // a line drawn at a side or all around: `line-b-hair`, `dots-b-hair`, `bold-a-ink`
    [
      /^(line|dots|bold)-([trbla])-(\w+)$/,
      ([, kind, side, role]) => ({
        [`border${SIDES[side!]}`]: `${kind === 'bold' ? 2 : 1}px ${kind === 'dots' ? 'dotted' : 'solid'} var(--${role})`,
      }),
    ],
  ],
})
