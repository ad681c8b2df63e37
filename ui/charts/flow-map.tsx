'use client';

import { useCallback } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import type { FlowMap as Flow, FlowNode } from '../data/answers.ts';
import { type Measure, measured } from '../data/measures.ts';
import { Chart, type Palette } from './chart.tsx';
import { tierDepth } from './tier-depth.ts';

function colourOf(node: FlowNode, palette: Palette): string {
  if (node.kind === 'unparsed') return palette.caution;
  if (node.kind === 'excluded') return palette.sand;
  if (node.kind === 'passing' || node.kind === 'rejected') return palette.hair;
  if (node.kind === 'tier') return palette.depth[tierDepth(node.shade)] ?? palette.ink;
  return palette.depth[node.kind === 'parsed' ? 4 : 3] ?? palette.ink;
}

/** Sources → parsed or not → tiers, excluded, passing; as wide as their volume. */
export function FlowMap(props: {
  readonly flow: Flow;
  readonly measure: Measure;
  /** For a measure of money. */
  readonly currency: Currency | null;
  readonly height: number;
  readonly onOpen: (node: FlowNode) => void;
}) {
  const { flow, measure, currency, onOpen } = props;
  const option = useCallback(
    (palette: Palette) => {
      const amount = (value: number): string => measured(value, measure, currency);
      const byId = new Map(flow.nodes.map((node) => [node.id, node]));
      const quiet = (id: string): boolean => ['excluded', 'passing', 'rejected'].includes(byId.get(id)?.kind ?? '');
      return {
        tooltip: { backgroundColor: palette.sheet, borderColor: palette.hair, textStyle: { color: palette.ink } },
        series: [
          {
            type: 'sankey',
            left: 4,
            right: 226,
            top: 6,
            bottom: 6,
            nodeWidth: 9,
            nodeGap: 12,
            layoutIterations: 0,
            draggable: false,
            emphasis: { focus: 'adjacency' },
            data: flow.nodes.map((node) => ({
              name: node.id,
              depth: node.kind === 'source' ? 0 : node.kind === 'parsed' || node.kind === 'unparsed' ? 1 : 2,
              itemStyle: { color: colourOf(node, palette), borderWidth: 0 },
            })),
            links: flow.links.map((link) => ({
              source: link.from,
              target: link.to,
              value: link[measure],
              lineStyle: {
                color:
                  link.to === 'unparsed' || link.from === 'unparsed'
                    ? palette.caution
                    : quiet(link.to)
                      ? palette.sand
                      : palette.depth[2],
                opacity: 0.42,
                curveness: 0.5,
              },
            })),
            label: {
              color: palette.ink,
              fontSize: 12.5,
              formatter: (params: { readonly name: string }) => {
                const node = byId.get(params.name);
                return node ? `${node.title}  {v|${amount(node[measure])}}` : '';
              },
              rich: { v: { color: palette.second, fontSize: 12 } },
            },
          },
        ],
      };
    },
    [flow, measure, currency],
  );
  const open = useCallback(
    (name: string) => {
      const node = flow.nodes.find((candidate) => candidate.id === name);
      if (node) onOpen(node);
    },
    [flow, onOpen],
  );
  return (
    <Chart
      label="Where events flow: from sources, parsed or not, to tiers"
      height={props.height}
      option={option}
      onClick={open}
    />
  );
}
