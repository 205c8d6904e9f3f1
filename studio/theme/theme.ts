import { theme, type ThemeConfig } from 'antd';

/** The achromatic steps that everything around the picture is made of, and the one accent. */
export const GREYS = {
  ground: '#2b2b2b',
  panel: '#333333',
  field: '#272727',
  raised: '#3a3a3a',
  line: '#454545',
  surround: '#4a4a4a',
} as const;
export const INK = { full: '#ececec', soft: '#b4b4b4', faint: '#8f8f8f' } as const;
export const ACCENT = '#8db65a';

/** Basil's look as tokens of the component set: dark, compact, small radii, no colour but the accent. */
export const studioTheme: ThemeConfig = {
  algorithm: [theme.darkAlgorithm, theme.compactAlgorithm],
  cssVar: { key: 'basil' },
  token: {
    colorPrimary: ACCENT,
    colorInfo: ACCENT,
    colorSuccess: ACCENT,
    colorLink: ACCENT,
    colorWarning: '#d9a441',
    colorError: '#d9634f',
    colorBgBase: GREYS.ground,
    colorBgContainer: GREYS.field,
    colorBgElevated: GREYS.raised,
    colorBgLayout: GREYS.ground,
    colorBorder: '#565656',
    colorBorderSecondary: GREYS.line,
    colorTextBase: INK.full,
    colorText: INK.full,
    colorTextSecondary: INK.soft,
    colorTextTertiary: INK.faint,
    colorTextPlaceholder: INK.faint,
    borderRadius: 3,
    fontFamily: 'var(--font-archivo), sans-serif',
    // The compact algorithm takes two off.
    fontSize: 15,
    motionDurationMid: '0.12s',
    motionDurationSlow: '0.16s',
    wireframe: false,
  },
  components: {
    Slider: {
      railBg: '#1d1d1d',
      railHoverBg: '#1d1d1d',
      trackBg: '#9a9a9a',
      trackHoverBg: '#b4b4b4',
      handleColor: INK.full,
      handleActiveColor: ACCENT,
      handleSize: 9,
      handleSizeHover: 10,
      railSize: 3,
    },
    Button: { primaryShadow: 'none', defaultShadow: 'none', fontWeight: 500, primaryColor: '#16200b' },
    Modal: { contentBg: GREYS.raised, headerBg: GREYS.raised },
    Progress: { remainingColor: '#1d1d1d', defaultColor: ACCENT },
    Segmented: { itemSelectedBg: '#565656', trackBg: GREYS.field },
  },
};
