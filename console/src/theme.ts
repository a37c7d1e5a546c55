import { createTheme, type MantineColorsTuple } from '@mantine/core'

/** Ten shades from light to dark around one hue of the house; the eighth is the hue itself. */
function shades(...tones: string[]): MantineColorsTuple {
  return tones as unknown as MantineColorsTuple
}

export const theme = createTheme({
  fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
  fontFamilyMonospace: "'Atkinson Hyperlegible Mono Variable', monospace",
  primaryColor: 'lagoon',
  primaryShade: { light: 8, dark: 4 },
  autoContrast: true,
  defaultRadius: 4,
  colors: {
    lagoon: shades(
      '#e8f3f3',
      '#d2e6e7',
      '#a6ced1',
      '#78b4b9',
      '#549ca2',
      '#3d8a90',
      '#2a7a81',
      '#1a6a71',
      '#0f5c63',
      '#0a4b51',
    ),
    brick: shades(
      '#fbeeec',
      '#f3d9d5',
      '#e6b0a8',
      '#d98579',
      '#ce6152',
      '#c64c3b',
      '#bd4534',
      '#b03f2f',
      '#a63d2f',
      '#8d3226',
    ),
  },
  headings: { fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif", fontWeight: '700' },
})
