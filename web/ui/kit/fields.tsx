'use client';

import type { ComponentProps } from 'react';
import { Field } from '@/ui/parts';

type Labelled<Tag extends 'input' | 'select' | 'textarea'> = Omit<ComponentProps<Tag>, 'onChange' | 'value'> & {
  label: string;
  hint?: string;
  value: string | number;
  onValue: (value: string) => void;
};

const classOf = (more: string | undefined): string => (more ? `field ${more}` : 'field');

/** A line of text or a number with its label; `className` adds to the field's own look. */
export function TextField({ label, hint, className, onValue, ...input }: Labelled<'input'>) {
  return (
    <Field label={label} hint={hint}>
      <input {...input} className={classOf(className)} onChange={(e) => onValue(e.target.value)} />
    </Field>
  );
}

/** One of several, as a list that opens; its options are the children. */
export function SelectField({ label, hint, className, onValue, ...select }: Labelled<'select'>) {
  return (
    <Field label={label} hint={hint}>
      <select {...select} className={classOf(className)} onChange={(e) => onValue(e.target.value)} />
    </Field>
  );
}

/** Several lines of text. */
export function AreaField({ label, hint, className, onValue, ...area }: Labelled<'textarea'>) {
  return (
    <Field label={label} hint={hint}>
      <textarea {...area} className={classOf(className)} onChange={(e) => onValue(e.target.value)} />
    </Field>
  );
}
