import { useState } from 'react';
import type { ShootFields } from '../../api/plan';
import { FormDialog } from '../forms/form-dialog';

interface Props {
  title: string;
  start?: ShootFields;
  submit: string;
  busy: boolean;
  error: Error | null;
  onClose: () => void;
  onSubmit: (fields: Partial<ShootFields>) => void;
}

/** A shoot's name, place, delivery and days. */
export function ShootForm({ title, start, submit, busy, error, onClose, onSubmit }: Props) {
  const [wrong, setWrong] = useState<Error | null>(null);
  const zone = start?.time_zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone;
  return (
    <FormDialog
      visible
      title={title}
      submit={submit}
      busy={busy}
      error={wrong ?? error}
      onClose={onClose}
      fields={[
        { key: 'name', label: 'Name', required: true, initial: start?.name },
        { key: 'place', label: 'Place', initial: start?.place },
        {
          key: 'width',
          label: 'Delivery width, px',
          initial: String(start?.delivery_width ?? 1920),
          numeric: true,
          required: true,
        },
        {
          key: 'height',
          label: 'Delivery height, px',
          initial: String(start?.delivery_height ?? 1080),
          numeric: true,
          required: true,
        },
        {
          key: 'fps',
          label: 'Delivery rate, frames a second',
          initial: String(start?.delivery_fps ?? 25),
          numeric: true,
          required: true,
        },
        ...(start
          ? [
              { key: 'days', label: 'Days, with commas: 2027-10-05', initial: start.days.join(', ') },
              { key: 'zone', label: 'Time zone', initial: zone },
              {
                key: 'latitude',
                label: 'Latitude, north is positive',
                numeric: true,
                initial: start.latitude === null ? '' : String(start.latitude),
              },
              {
                key: 'longitude',
                label: 'Longitude, east is positive',
                numeric: true,
                initial: start.longitude === null ? '' : String(start.longitude),
              },
            ]
          : []),
      ]}
      onSubmit={(v) => {
        const number = (text: string | undefined) => (text?.trim() ? Number(text.replace(',', '.')) : null);
        const fields: Partial<ShootFields> = {
          name: v.name,
          place: v.place,
          delivery_width: number(v.width) ?? NaN,
          delivery_height: number(v.height) ?? NaN,
          delivery_fps: number(v.fps) ?? NaN,
          ...(start
            ? {
                days: v.days.split(/[,\s]+/).filter(Boolean),
                time_zone: v.zone.trim() || 'UTC',
                latitude: number(v.latitude),
                longitude: number(v.longitude),
              }
            : {}),
        };
        const bad = [
          fields.delivery_width,
          fields.delivery_height,
          fields.delivery_fps,
          fields.latitude,
          fields.longitude,
        ].some((n) => typeof n === 'number' && !Number.isFinite(n));
        setWrong(bad ? new Error('Size, rate and place are numbers: check what was typed.') : null);
        if (!bad) onSubmit(fields);
      }}
    />
  );
}
