import { useState } from 'react';
import { View } from 'react-native';
import { NoShape, readShape } from '../../core/formats/shapes-in';
import { FileButton } from '../components/file-button';
import { Body } from '../components/words';

interface Props {
  label: string;
  /** Size of the take in whose pixels the shape is. */
  size: { width: number; height: number };
  /** Takes the shape over; may throw NoShape. */
  onPoints: (points: [number, number][]) => void;
  testID: string;
}

/** Takes a line or an outline in from an SVG picture; it is shown where it was drawn before, and kept as that is. */
export function ShapeFile({ label, size, onPoints, testID }: Props) {
  const [why, setWhy] = useState<string | null>(null);
  const choose = async (chosen: File) => {
    try {
      onPoints(readShape(await chosen.text(), size));
      setWhy(null);
    } catch (error) {
      if (!(error instanceof NoShape)) throw error;
      setWhy(error.message);
    }
  };
  return (
    <View>
      <FileButton
        label={label}
        accept=".svg,image/svg+xml"
        onFile={(chosen) => void choose(chosen).catch(() => setWhy('The file cannot be read. Choose it again.'))}
        testID={testID}
        fieldID={`${testID}-file`}
      />
      {why && <Body>{why}</Body>}
    </View>
  );
}
