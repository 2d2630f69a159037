import { createElement, useCallback, useEffect, useRef, useState } from 'react';
import { Image, StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { ToolButton } from '../components/tool-button';
import { UnderWay } from '../components/under-way';
import { Body, Heading, Mono, Soft } from '../components/words';
import { useMakeAgain } from '../data/measure-hooks';
import { saveFile } from '../data/save-file';
import type { MeasureSent } from '../../api/measures';
import { proofFilm, proofFrame } from '../data/wipe-hooks';
import { usePalette } from '../theme/theme';
import { useKeys } from './use-keys';

/** Keys of the proof, as they are listed in the app. */
export const PROOF_KEYS = 'Keys: space plays, ← → frames';

interface Props {
  proof: Pick<MeasureSent, 'id' | 'state' | 'failure' | 'frames_done' | 'frames_total'> & {
    result: { width: number; height: number; frames: number; fps: number } | null;
  };
  /** Which frames of its takes a frame of the proof shows, in words. */
  framesAt: (frame: number) => string;
  /** What was joined, and how, in a sentence. */
  note: string;
  /** What is wrong with it; null when nothing is. */
  complaint: string | null;
  wide: boolean;
  onRemove: () => void;
}

/** A proof: played over and over, or looked at frame by frame. */
export function ProofPlayer({ proof, framesAt, note, complaint, wide, onRemove }: Props) {
  const p = usePalette();
  const { result } = proof;
  const again = useMakeAgain();
  const [playing, setPlaying] = useState(true);
  const [frame, setFrame] = useState(0);
  const film = useRef<HTMLVideoElement | null>(null);
  const count = result?.frames ?? 1,
    fps = result?.fps ?? 25;
  const stopAt = useCallback(
    (to: number) => {
      setPlaying(false);
      setFrame(((to % count) + count) % count);
    },
    [count],
  );
  const now = () => Math.min(count - 1, Math.floor((film.current?.currentTime ?? 0) * fps + 0.01));
  const turn = () => {
    if (playing) stopAt(now());
    else setPlaying(true);
  };
  const step = (by: number) => stopAt((playing ? now() : frame) + by);
  useKeys((key, shift) => {
    if (key === ' ') turn();
    else if (key === 'ArrowLeft' || key === 'ArrowRight') step((key === 'ArrowLeft' ? -1 : 1) * (shift ? 10 : 1));
    else return false;
    return true;
  });
  useEffect(() => {
    if (!playing || !film.current) return;
    film.current.currentTime = frame / fps;
    film.current.play().catch(() => undefined);
    // Only when playing begins: the film runs by itself then.
  }, [playing]); // eslint-disable-line react-hooks/exhaustive-deps
  if (proof.state === 'failed')
    return (
      <View style={styles.box} testID="proof-failed">
        <Heading>No proof</Heading>
        <Body>{proof.failure}</Body>
        <View style={styles.saves}>
          <Action quiet label="Try again" onPress={() => again.mutate(proof.id)} />
          <Action quiet icon="trash-can-outline" label="Remove" onPress={onRemove} />
        </View>
      </View>
    );
  if (proof.state !== 'done' || !result) {
    return (
      <View style={styles.box} testID="proof-making">
        <Heading>Making the proof</Heading>
        <UnderWay work={proof} what="rendering" />
      </View>
    );
  }
  const shape = { width: '100%', aspectRatio: result.width / result.height } as const;
  return (
    <View testID="proof">
      {playing ? (
        createElement('video', {
          ref: film,
          src: proofFilm(proof.id, 'mp4'),
          autoPlay: true,
          loop: true,
          muted: true,
          playsInline: true,
          'data-testid': 'proof-film',
          'aria-label': 'Proof',
          style: {
            width: '100%',
            aspectRatio: `${result.width} / ${result.height}`,
            display: 'block',
            background: '#000',
          },
        })
      ) : (
        <Image
          source={{ uri: proofFrame(proof.id, frame) }}
          style={[shape, { backgroundColor: '#000' }]}
          testID="proof-frame"
          accessibilityLabel={`Proof, frame ${frame}`}
        />
      )}
      <View style={styles.tools}>
        <ToolButton icon="chevron-double-left" label="Proof, ten frames back" onPress={() => step(-10)} />
        <ToolButton icon="chevron-left" label="Proof, one frame back" onPress={() => step(-1)} testID="proof-back" />
        <ToolButton
          icon={playing ? 'pause' : 'play'}
          label={playing ? 'Stop the proof' : 'Play the proof'}
          onPress={turn}
          testID="proof-play"
        />
        <ToolButton icon="chevron-right" label="Proof, one frame on" onPress={() => step(1)} testID="proof-on" />
        <ToolButton icon="chevron-double-right" label="Proof, ten frames on" onPress={() => step(10)} />
        <Mono style={styles.at}>{playing ? `${count} frames, ${(count / fps).toFixed(1)} s` : framesAt(frame)}</Mono>
      </View>
      <Soft>{note}</Soft>
      {complaint && <Body style={{ color: p.workable }}>{complaint}</Body>}
      {wide && <Mono>{PROOF_KEYS}</Mono>}
      <View style={styles.saves}>
        <Action
          quiet
          icon="download"
          label="Save MP4"
          onPress={() => saveFile(proofFilm(proof.id, 'mp4', true))}
          testID="save-proof"
        />
        <Action
          quiet
          icon="download"
          label="WebM"
          onPress={() => saveFile(proofFilm(proof.id, 'webm', true))}
          testID="save-proof-webm"
        />
        <Action quiet icon="trash-can-outline" label="Remove" onPress={onRemove} testID="remove-proof" />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  box: { gap: 10, paddingVertical: 28 },
  tools: { flexDirection: 'row', alignItems: 'center' },
  at: { flex: 1, textAlign: 'right' },
  saves: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, paddingTop: 10 },
});
