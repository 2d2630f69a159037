import { StyleSheet, View } from 'react-native';
import type { MediaFacts } from '../../core/report/types';
import { FactLines } from '../components/fact-lines';
import { Heading } from '../components/words';

/** What the file is, line by line; what needs care says so. */
export function MediaFactsTable({ media }: { media: MediaFacts }) {
  const lines: [string, string][] = [
    ['Picture', `${media.width} × ${media.height} px${media.rotation_deg ? `, turned ${media.rotation_deg}°` : ''}`],
    ['Length', `${media.frame_count} frames${media.duration_s === null ? '' : `, ${media.duration_s.toFixed(2)} s`}`],
    [
      'Rate',
      media.measured_fps === null
        ? media.container_fps
        : `${media.measured_fps.toFixed(3)} fps${media.variable_rate ? ', wandering' : ', steady'}`,
    ],
    ['Distinct pictures', media.real_fps === null ? 'not known' : `${media.real_fps.toFixed(2)} a second`],
    [
      'Repeated frames',
      media.repeated_frames.length ? `${media.repeated_frames.length}, first at ${media.repeated_frames[0]}` : 'none',
    ],
    [
      'Missing frames',
      media.missing_frames.length
        ? `${media.missing_frames.reduce((n, m) => n + m.count, 0)}, first after ${media.missing_frames[0].after}`
        : 'none',
    ],
    ['Codec', `${media.codec}, ${media.bit_depth} bit`],
    ['Timecode', media.timecode ?? 'none'],
  ];
  return (
    <View testID="media-facts">
      <Heading style={styles.head}>The file</Heading>
      <FactLines lines={lines} />
    </View>
  );
}

const styles = StyleSheet.create({ head: { paddingBottom: 4 } });
