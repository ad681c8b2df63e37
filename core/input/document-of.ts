import type { InferType, ISchema } from 'yup';

/** What a shape describes, to be read and not to be changed. What may be undefined may be left out. */
export type DocumentOf<Shape extends ISchema<unknown>> = Immutable<InferType<Shape>>;

type Immutable<Value> = Value extends readonly (infer Item)[]
  ? readonly Immutable<Item>[]
  : Value extends object
    ? ImmutableObject<Value>
    : Value;

type ImmutableObject<Value> = Flat<
  { readonly [Key in keyof Value as undefined extends Value[Key] ? never : Key]: Immutable<Value[Key]> } & {
    readonly [Key in keyof Value as undefined extends Value[Key] ? Key : never]?: Immutable<Value[Key]>;
  }
>;

type Flat<Value> = { [Key in keyof Value]: Value[Key] };
