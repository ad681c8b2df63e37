/** The JSON Schemas of what operations answer, by the names of their types; `Answers` has those of the operations. */
export function answerSchemas(): Promise<Readonly<Record<string, unknown>>>;
