import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { HelperText } from 'react-native-paper';
import type { DoorState } from '../../api/door';
import { Action } from '../components/action';
import { Screen } from '../components/screen';
import { Body } from '../components/words';
import { request, setClosed } from '../data/client';
import { rememberedPerson } from '../data/person';
import { TextField } from '../forms/fields';

/** The code in the address, which the picture at the start holds. */
function codeInAddress(): string {
  return new URLSearchParams(window.location.hash.slice(1)).get('code') ?? '';
}

/** All that a device sees that has not joined. */
export function JoinScreen() {
  const client = useQueryClient();
  const [code, setCode] = useState(codeInAddress);
  const [name, setName] = useState(rememberedPerson);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const join = () => {
    setBusy(true);
    setError(null);
    request<DoorState>('/door/join', { method: 'POST', body: { code, name } })
      .then(
        () => {
          window.history.replaceState(null, '', window.location.pathname);
          setClosed(false);
          return client.resetQueries();
        },
        (e: Error) => setError(e.message),
      )
      .finally(() => setBusy(false));
  };
  return (
    <Screen
      where="Umbrastat"
      title="Join with this device"
      action={
        <Action
          label={busy ? 'Joining …' : 'Join'}
          disabled={busy || !code.trim() || !name.trim()}
          onPress={join}
          testID="join"
        />
      }
    >
      <Body>
        This server is open to the network, so each device joins once. The pass code stands where Umbrastat was started.
      </Body>
      <TextField label="Pass code" value={code} onChange={setCode} testID="field-code" />
      <TextField label="Name of this device, for the others" value={name} onChange={setName} testID="field-device" />
      {error && (
        <HelperText type="error" visible>
          {error}
        </HelperText>
      )}
    </Screen>
  );
}
