import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { freshKey } from '../../core/plan/check-trick';
import type { PartRole, Trick, TrickPart } from '../../core/tricks/types';
import { Action } from '../components/action';
import { MenuButton } from '../components/menu-button';
import { Row } from '../components/row';
import { SortableList } from '../components/sortable-list';
import { Heading } from '../components/words';
import { FormDialog } from '../forms/form-dialog';

const ROLES: Record<PartRole, string> = {
  plate: 'plate',
  pass: 'pass',
  'out-side': 'out side',
  'in-side': 'in side',
  still: 'still',
};

/** The parts of a trick: order, what to record, how long. */
export function TrickParts({ trick, onChange }: { trick: Trick; onChange: (part: Partial<Trick>) => void }) {
  const [form, setForm] = useState<{ part: TrickPart | null; role: PartRole } | null>(null);
  const put = (parts: TrickPart[]) => onChange({ parts });
  const remove = (key: string) =>
    onChange({
      parts: trick.parts.filter((q) => q.key !== key),
      requirements: trick.requirements.filter((r) => !r.parts.includes(key)),
      script: trick.script.filter((l) => l.part !== key),
    });
  return (
    <>
      <Heading style={styles.head}>Parts</Heading>
      <SortableList
        items={trick.parts}
        idOf={(q) => q.key}
        nameOf={(q) => q.name}
        onOrder={(keys) => put(keys.map((k) => trick.parts.find((q) => q.key === k)!))}
        render={(q) => (
          <Row
            title={`${q.name}${q.optional ? ', may be left out' : ''}`}
            text={`${ROLES[q.role]}, ${q.seconds} s. ${q.what}`}
            trail={
              <MenuButton
                label={`More for ${q.name}`}
                entries={[
                  { label: 'Change it', onPress: () => setForm({ part: q, role: q.role }) },
                  {
                    label: q.optional ? 'It must be recorded' : 'It may be left out',
                    onPress: () => put(trick.parts.map((o) => (o.key === q.key ? { ...q, optional: !q.optional } : o))),
                  },
                  { label: 'Take it out, with what speaks of it', onPress: () => remove(q.key) },
                ]}
              />
            }
          />
        )}
      />
      <Action
        quiet
        label="Add a pass"
        icon="plus"
        onPress={() => setForm({ part: null, role: 'pass' })}
        style={styles.add}
        testID="add-pass"
      />
      {!trick.parts.some((q) => q.role === 'plate') && (
        <Action
          quiet
          label="Add a plate"
          icon="plus"
          onPress={() => setForm({ part: null, role: 'plate' })}
          style={styles.add}
        />
      )}
      <FormDialog
        key={form ? (form.part?.key ?? `new-${form.role}`) : 'none'}
        visible={form !== null}
        title={form?.part ? 'Change the part' : 'Add a part'}
        submit="Take over"
        busy={false}
        error={null}
        onClose={() => setForm(null)}
        fields={[
          {
            key: 'name',
            label: 'Name',
            required: true,
            initial: form?.part?.name ?? (form?.role === 'plate' ? 'Plate' : ''),
          },
          { key: 'what', label: 'What to record', initial: form?.part?.what, multiline: true },
          {
            key: 'seconds',
            label: 'Length, s',
            numeric: true,
            required: true,
            initial: String(form?.part?.seconds ?? (form?.role === 'plate' ? 5 : 10)),
          },
        ]}
        onSubmit={(v) => {
          if (!form) return;
          const fields = { name: v.name.trim(), what: v.what.trim(), seconds: Number(v.seconds.replace(',', '.')) };
          const { part } = form;
          if (part) put(trick.parts.map((o) => (o.key === part.key ? { ...o, ...fields } : o)));
          else
            put([
              ...trick.parts,
              {
                ...fields,
                key: freshKey(
                  fields.name,
                  trick.parts.map((q) => q.key),
                ),
                role: form.role,
                place: form.role === 'plate' ? 'first' : 'any',
                optional: false,
              },
            ]);
          setForm(null);
        }}
      />
    </>
  );
}

const styles = StyleSheet.create({ head: { paddingTop: 18, paddingBottom: 4 }, add: { marginTop: 10 } });
