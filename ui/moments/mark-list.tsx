import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import type { Mark } from '../../core/plan/marks';
import { Action } from '../components/action';
import { Failed } from '../components/states';
import { ToolButton } from '../components/tool-button';
import { Heading, Mono, Soft, Strong } from '../components/words';
import { saveFile } from '../data/save-file';
import type { Marks } from '../data/mark-hooks';
import { FormDialog } from '../forms/form-dialog';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { MarksIn } from './marks-in';
import { beatName, secondsOf } from './moment-words';

interface Props {
  takeId: string;
  marks: readonly Mark[];
  does: Marks;
  fps: number | null;
  frameCount: number;
  /** The mark that keys and buttons move. */
  held: string | null;
  onHold: (id: string | null) => void;
  onFrame: (frame: number) => void;
  naming: string | null;
  onNaming: (id: string | null) => void;
  onRemove: (mark: Mark) => void;
}

/** The marks of a take: each is shown with a tap, moved by a frame, named, and deleted. */
export function MarkList({
  takeId,
  marks,
  does,
  fps,
  frameCount,
  held,
  onHold,
  onFrame,
  naming,
  onNaming,
  onRemove,
}: Props) {
  const p = usePalette();
  const named = marks.find((m) => m.id === naming);
  const move = (mark: Mark, by: number) => {
    const frame = Math.max(0, Math.min(frameCount - 1, mark.frame + by));
    onHold(mark.id);
    onFrame(frame);
    if (frame !== mark.frame) does.change.mutate({ id: mark.id, frame });
  };
  const error = does.add.error ?? does.change.error ?? does.remove.error;
  return (
    <View testID="marks">
      <Heading>{marks.length === 0 ? 'No frame is marked yet' : 'Marked'}</Heading>
      {marks.length === 0 && <Soft>Keep what was found below, or step to a frame and mark it.</Soft>}
      {marks.map((m) => (
        <View
          key={m.id}
          style={[styles.row, { borderBottomColor: p.line }, m.id === held && { backgroundColor: p.card }]}
          testID={`mark-${m.name}`}
        >
          <Pressable
            role="button"
            onPress={() => {
              onHold(m.id);
              onFrame(m.frame);
            }}
            style={styles.words}
            accessibilityLabel={`${m.name}, frame ${m.frame}. Show it`}
          >
            <Strong>{m.name}</Strong>
            <Mono>{`frame ${m.frame} · ${secondsOf(m.frame, fps)}${movedWords(m)}`}</Mono>
          </Pressable>
          <ToolButton
            icon="minus"
            label={`${m.name} one frame earlier`}
            onPress={() => move(m, -1)}
            testID="mark-less"
          />
          <ToolButton icon="plus" label={`${m.name} one frame later`} onPress={() => move(m, 1)} testID="mark-more" />
          <ToolButton
            icon="pencil-outline"
            label={`Name ${m.name}`}
            onPress={() => onNaming(m.id)}
            testID="mark-name"
          />
          <ToolButton
            icon="delete-outline"
            label={`Delete ${m.name}`}
            onPress={() => onRemove(m)}
            testID="mark-delete"
          />
        </View>
      ))}
      {marks.length > 0 && (
        <View style={styles.save}>
          {(['vtt', 'csv'] as const).map((as) => (
            <Action
              key={as}
              quiet
              label={as === 'vtt' ? 'Save as WebVTT' : 'Save as CSV'}
              style={styles.half}
              onPress={() => saveFile(`/api/takes/${takeId}/marks/file?as=${as}`)}
              testID={`save-marks-${as}`}
            />
          ))}
        </View>
      )}
      <MarksIn does={does} />
      {error && <Failed error={error} />}
      <FormDialog
        key={naming}
        visible={named !== undefined}
        title="Name this mark"
        submit="Keep the name"
        text="Takes are laid on each other by marks of one name."
        busy={does.change.isPending}
        error={does.change.error}
        onClose={() => onNaming(null)}
        fields={[{ key: 'name', label: 'Name', required: true, initial: named?.name }]}
        onSubmit={(v) =>
          naming && does.change.mutate({ id: naming, name: v.name.trim() }, { onSuccess: () => onNaming(null) })
        }
      />
    </View>
  );
}

/** Where it was found, once it was moved. */
function movedWords({ kind, found, frame, name }: Mark): string {
  if (kind === 'own' || found === null) return '';
  if (found !== frame) return ` · found at ${found}`;
  return name.startsWith(beatName({ kind })) ? '' : ` · ${beatName({ kind }).toLowerCase()}`;
}

/** Which mark is held, and which is being named. */
export function useHeldMark() {
  const [held, setHeld] = useState<string | null>(null);
  const [naming, setNaming] = useState<string | null>(null);
  return { held, setHeld, naming, setNaming };
}

const styles = StyleSheet.create({
  save: { flexDirection: 'row', gap: 10, paddingTop: 8 },
  half: { flex: 1 },
  row: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH + 8, borderBottomWidth: 1, paddingLeft: 4 },
  words: { flex: 1, minWidth: 0, justifyContent: 'center', minHeight: TOUCH },
});
