const variable = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Colours and type of charts, from the theme in force. */
export function chartStyle() {
  const [ink, quiet, line, raised] = ['--ink', '--quiet', '--hairline', '--raised'].map(variable) as [
    string,
    string,
    string,
    string,
  ];
  const axis = {
    axisLine: { lineStyle: { color: quiet } },
    axisTick: { show: false },
    axisLabel: { color: quiet, fontSize: 11, fontFamily: 'Atkinson Hyperlegible Mono Variable' },
    splitLine: { lineStyle: { color: line } },
    nameTextStyle: { color: quiet, fontSize: 11 },
  };
  return {
    ink,
    quiet,
    axis,
    text: { color: ink, fontFamily: 'Atkinson Hyperlegible Next Variable', fontSize: 12 },
    tooltip: {
      backgroundColor: raised,
      borderColor: quiet,
      textStyle: { color: ink, fontSize: 12 },
      transitionDuration: 0,
    },
  };
}

/** Channels: told apart by dash as well as by colour. */
export const channelLines = [
  { name: 'red', color: '#b0382a', type: 'solid' },
  { name: 'green', color: '#2e7d4f', type: 'dashed' },
  { name: 'blue', color: '#2f5ea8', type: 'dotted' },
] as const;
