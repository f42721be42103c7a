import { theme as antTheme, type ThemeConfig } from 'antd';
import type { Room } from './room/room.ts';

const shape = {
  fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
  fontFamilyCode: "'Atkinson Hyperlegible Mono Variable', monospace",
  fontSize: 13,
  lineHeight: 20 / 13,
  borderRadius: 2,
  controlHeight: 26,
  controlHeightSM: 22,
  boxShadow: '0 4px 14px rgba(0,0,0,0.18)',
  motionDurationMid: '0.1s',
  motionDurationSlow: '0.15s',
};

const light = {
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
};

const dim = {
  colorPrimary: '#a79fe3',
  colorInfo: '#a79fe3',
  colorSuccess: '#5fc7c0',
  colorWarning: '#e0ad4e',
  colorError: '#f0917f',
  colorText: '#ededed',
  colorTextSecondary: '#b9b9b9',
  colorTextDescription: '#b9b9b9',
  colorTextPlaceholder: '#aaaaaa',
  colorTextLightSolid: '#1c1c1c',
  colorBgLayout: '#2e2e2e',
  colorBgContainer: '#454545',
  colorBgElevated: '#454545',
  colorBorder: '#8a8a8a',
  colorBorderSecondary: '#5c5c5c',
  colorBgSpotlight: '#e0e0e0',
};

/**
 * The look's tokens for Ant Design; styles/tokens.css carries the same values as custom properties. `still` is for who asked their
 * system for less motion: then nothing slides or fades.
 */
export function themeOf(room: Room['theme'], still: boolean): ThemeConfig {
  const handle = room === 'light' ? '#1c1c1c' : '#ededed';
  const rail = room === 'light' ? '#bdbdbd' : '#5c5c5c';
  return {
    algorithm: room === 'light' ? antTheme.defaultAlgorithm : antTheme.darkAlgorithm,
    token: { ...shape, motion: !still, ...(room === 'light' ? light : dim) },
    components: {
      Button: { primaryShadow: 'none', defaultShadow: 'none' },
      Slider: {
        handleColor: handle,
        trackBg: room === 'light' ? '#8b8b8b' : '#a8a8a8',
        trackHoverBg: room === 'light' ? '#6b6b6b' : '#c4c4c4',
        railBg: rail,
        railHoverBg: rail,
        handleActiveColor: room === 'light' ? '#5a4fa0' : '#a79fe3',
      },
      Switch: { handleShadow: 'none' },
    },
  };
}
