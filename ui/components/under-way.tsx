import { StyleSheet, View } from 'react-native';
import type { MeasureSent } from '../../api/measures';
import { useCallOff } from '../data/measure-hooks';
import { Action } from './action';
import { Progress } from './states';
import { Body } from './words';

/** How far work on a measure is, with a button that calls it off. */
export function UnderWay({
  work,
  what,
  unit = 'frames',
}: {
  /** Null while it is not known yet. */
  work: Pick<MeasureSent, 'id' | 'state' | 'frames_done' | 'frames_total'> | null;
  /** What is being done once it is its turn. */
  what: string;
  unit?: string;
}) {
  const off = useCallOff();
  return (
    <View>
      <Progress
        what={work?.state === 'working' ? what : 'waiting for its turn'}
        done={work?.frames_done ?? 0}
        total={work?.frames_total ?? 0}
        unit={unit}
      />
      {work && (
        <View style={styles.off}>
          <Action
            quiet
            label={off.isPending ? 'Calling it off …' : 'Call it off'}
            disabled={off.isPending}
            onPress={() => off.mutate(work.id)}
            testID="call-off"
          />
        </View>
      )}
      {off.error && <Body>{off.error.message}</Body>}
    </View>
  );
}

const styles = StyleSheet.create({ off: { alignItems: 'flex-start', paddingTop: 8 } });
