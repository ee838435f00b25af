import { View } from 'react-native';
import { portraitOf } from '@/api/client';

/** A person or a face in an upright oval. `face` null leaves the frame empty. */
export function Cameo({
  face,
  width = 92,
  label = '',
  faded = false,
}: {
  face: number | null;
  width?: number;
  label?: string;
  faded?: boolean;
}) {
  const height = Math.round(width * 1.25);
  return (
    <View
      className="items-center justify-center border border-line bg-card"
      style={{ width: width + 6, height: height + 6, borderRadius: '50%' as unknown as number, padding: 2 }}
    >
      {face === null ? (
        <View className="bg-mist" style={{ width, height, borderRadius: '50%' as unknown as number }} />
      ) : (
        <img
          src={portraitOf(face)}
          alt={label}
          width={width}
          height={height}
          loading="lazy"
          draggable={false}
          style={{
            width,
            height,
            borderRadius: '50%',
            objectFit: 'cover',
            ...(faded ? { filter: 'grayscale(1)', opacity: 0.35 } : {}),
          }}
        />
      )}
    </View>
  );
}
