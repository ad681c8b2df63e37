/** An object as a list names it. An object that is written again has another version. */
export interface ListedObject {
  readonly name: string;
  readonly version: string;
  /** As the list says; 0 where it does not. */
  readonly size: number;
}
