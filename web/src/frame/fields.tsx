import { zodResolver } from '@hookform/resolvers/zod';
import { type ComponentProps, useId } from 'react';
import { type DefaultValues, type FieldValues, useForm } from 'react-hook-form';
import type * as z from 'zod';

/** A form whose values fit the schema its route takes them by; what does not fit is said at its field, when one sends it off. */
export function useFields<V extends FieldValues, R extends FieldValues = V>(
  schema: z.ZodType<R, V>,
  before: DefaultValues<V>,
) {
  return useForm<V, unknown, R>({ resolver: zodResolver(schema), defaultValues: before });
}

/** For `register`: what stands round the words is no part of them. */
export const trimmed = { setValueAs: (value: unknown) => (typeof value === 'string' ? value.trim() : value) };

interface Props extends ComponentProps<'input'> {
  readonly label: string;
  /** What is wrong with it, as a sentence. */
  readonly wrong?: string | null | undefined;
  /** Of the label and the field together. */
  readonly box?: string;
}

/** A field of one line with its label, and below it what is wrong. */
export function LineField({ label, wrong, box, ...input }: Props) {
  const id = useId();
  return (
    <div className={box}>
      <label htmlFor={id} className="text-sm text-soft">
        {label}
      </label>
      <input
        id={id}
        className="field"
        aria-invalid={wrong ? true : undefined}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        {...input}
      />
      {wrong && (
        <p id={`${id}-wrong`} role="alert" className="mt-1 text-sm text-caution">
          {wrong}
        </p>
      )}
    </div>
  );
}
