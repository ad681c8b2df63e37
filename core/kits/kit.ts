import type { PipelineDocument } from '../plan/parts/pipelines/pipelines-shape.ts';

/** A ready pipeline for one kind of source. */
export interface StarterKit {
  readonly id: string;
  readonly title: string;
  /** What it is for and what it makes of the lines, in a sentence or two. */
  readonly help: string;
  /** Lines by which it is recognised: a kit fits when nearly all lines of a source pass its first step that can fail. */
  readonly fits: (line: string) => boolean;
  /** Templates of the first step that may be extended for lines with additional fields. */
  readonly templates?: readonly string[];
  /** The pipeline, with tests, for a source. */
  readonly pipeline: (source: string) => PipelineDocument;
}

/** The id and entry condition that kits give their pipelines. */
export function entryOf(kit: string, source: string): Pick<PipelineDocument, 'id' | 'when'> {
  return { id: `${source}-${kit}`.slice(0, 63), when: `source = ${source}` };
}
