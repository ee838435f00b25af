import qrcode from 'qrcode-generator';
import { useMemo } from 'react';
import { View } from 'react-native';
import Svg, { Path, Rect } from 'react-native-svg';

/** A QR code (ISO/IEC 18004), always dark on light so that cameras read it in the evening too. */
export function QrCode({ text, label }: { text: string; label: string }) {
  const { path, size } = useMemo(() => {
    const code = qrcode(0, 'M');
    code.addData(text);
    code.make();
    const n = code.getModuleCount();
    let squares = '';
    for (let y = 0; y < n; y++)
      for (let x = 0; x < n; x++) if (code.isDark(y, x)) squares += `M${x + 4} ${y + 4}h1v1h-1z`;
    return { path: squares, size: n + 8 };
  }, [text]);
  return (
    <View className="items-center">
      <Svg width={208} height={208} viewBox={`0 0 ${size} ${size}`} role="img" aria-label={label}>
        <Rect width={size} height={size} fill="#fffbf3" rx={2} />
        <Path d={path} fill="#1e2c2b" />
      </Svg>
    </View>
  );
}
