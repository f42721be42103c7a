import type { ThemeConfig } from 'antd';

/** The look's tokens for Ant Design; styles.css carries the same values as custom properties. */
export const theme: ThemeConfig = {
  token: {
    fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
    fontFamilyCode: "'Atkinson Hyperlegible Mono Variable', monospace",
    fontSize: 13,
    lineHeight: 20 / 13,
    borderRadius: 2,
    controlHeight: 26,
    controlHeightSM: 22,
    colorPrimary: '#5a4fa0',
    colorInfo: '#5a4fa0',
    colorSuccess: '#0f6e6e',
    colorWarning: '#8a5a00',
    colorError: '#a1321f',
    colorText: '#1c1c1c',
    colorTextSecondary: '#565656',
    colorTextDescription: '#565656',
    colorTextPlaceholder: '#5f5f5f',
    colorBgLayout: '#dadada',
    colorBgContainer: '#f4f4f4',
    colorBgElevated: '#f4f4f4',
    colorBorder: '#8f8f8f',
    colorBorderSecondary: '#bdbdbd',
    boxShadow: '0 4px 14px rgba(0,0,0,0.18)',
    motionDurationMid: '0.1s',
    motionDurationSlow: '0.15s',
  },
  components: {
    Button: { primaryShadow: 'none', defaultShadow: 'none' },
    Slider: {
      handleColor: '#1c1c1c',
      trackBg: '#8b8b8b',
      trackHoverBg: '#6b6b6b',
      railBg: '#bdbdbd',
      railHoverBg: '#bdbdbd',
      handleActiveColor: '#5a4fa0',
    },
    Switch: { handleShadow: 'none' },
  },
};
