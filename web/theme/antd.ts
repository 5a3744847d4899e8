/** Ant Design Vue's theme from our tokens, read off the page so that day and night both come from one place. */
import { theme } from 'ant-design-vue';
import { readTokens } from './theme';

export function antTheme(isNight: boolean) {
  const token = readTokens();
  return {
    algorithm: isNight ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: token('stem'),
      colorInfo: token('dusk'),
      colorSuccess: token('stem'),
      colorWarning: token('straw'),
      colorError: token('rust'),
      colorLink: token('dusk'),
      colorTextBase: token('ink'),
      colorBgBase: token('sheet'),
      colorBorder: token('rule'),
      colorTextPlaceholder: token('quiet'),
      colorTextLightSolid: token('on-stem'),
      colorTextDisabled: token('quiet'),
      colorTextDescription: token('quiet'),
      colorTextTertiary: token('quiet'),
      colorTextSecondary: token('quiet'),
      borderRadius: 2,
      borderRadiusSM: 2,
      borderRadiusLG: 2,
      fontFamily: token('font'),
      fontSize: 14,
      controlHeight: 30,
      controlHeightSM: 24,
      controlHeightLG: 40,
      motion: false,
      // A button at work turns and stays legible; faded, its text would lack contrast.
      opacityLoading: 1,
      wireframe: false,
    },
  };
}
