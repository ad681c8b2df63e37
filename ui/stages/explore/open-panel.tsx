import { EventPanel } from './lines/event-panel.tsx';
import { SavedPanel } from './saved-panel.tsx';
import { views } from './views/index.ts';
import type { OpenPanel, ViewState } from './views/view.ts';

/** What is in the panel at the right: what the view opens, an event, the saved searches, or nothing. */
export function openPanel(state: ViewState, tab: string): OpenPanel {
  const { asked } = state;
  const { view, condition, window, show } = asked;
  const ofView = views[view].panel;
  return (
    ofView?.(state) ??
    eventPanel(state) ?? {
      open: asked.panel !== null,
      title: 'Saved searches',
      onClose: () => asked.setPanel(null),
      panel: <SavedPanel now={{ condition, window, summary: view === 'summary' ? show : '' }} tab={tab} />,
    }
  );
}

function eventPanel({ asked }: ViewState): OpenPanel | undefined {
  const { event } = asked;
  if (event === null) return undefined;
  const onAround = (): void => void asked.place({ around: event, of: asked.scope ?? 'source' });
  return {
    open: true,
    title: 'Event',
    onClose: () => asked.openEvent(null),
    panel: <EventPanel key={event} id={event} onAdd={asked.add} onAround={onAround} />,
  };
}
