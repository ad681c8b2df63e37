import type { PlanDocument } from '#core/plan/document.ts';

/** The plan with which the Skerry Line's engineer meets the visitor. */
export const demoPlan: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'web-access',
      title: 'Web access lines',
      when: 'source = booking-web',
      steps: [
        {
          extract: {
            from: 'body',
            template:
              '{client:ip} - {user?} [{at:clf}] "{method} {path} HTTP/{version}" {status:int} {bytes:bytes} "{referrer?}" "{agent}" {took:seconds}',
          },
        },
        { 'set-time': { from: 'at' } },
        { 'drop-body': {} },
      ],
    },
    {
      id: 'payments',
      title: 'Payments',
      when: 'source = payments',
      steps: [
        {
          extract: {
            from: 'body',
            template:
              '{at:iso} {lvl} pay[{worker:int}] {outcome} card={card} amount={amount:number}{currency} acquirer={acquirer} took={took:duration} ref={ref}',
          },
        },
        { 'set-time': { from: 'at' }, when: 'has at' },
        { 'set-severity': { from: 'lvl' }, when: 'has lvl' },
      ],
    },
    {
      id: 'berth-planner',
      title: 'Berth planner',
      when: 'source = berth-planner',
      steps: [
        {
          extract: {
            from: 'body',
            template: 'ts={at:iso} level={lvl} msg={message:quoted} host={host} {fields:pairs}',
          },
        },
        { 'set-time': { from: 'at' } },
        { 'set-severity': { from: 'lvl' } },
        { convert: { field: 'took', to: 'duration' } },
      ],
    },
    {
      id: 'gates',
      title: 'Gate scanners',
      when: 'source = gates',
      steps: [{ extract: { from: 'body', template: 'ticket {ref} {result} in {took_ms:number} ms' }, when: 'ticket' }],
    },
    {
      id: 'tides',
      title: 'Tide gauges',
      when: 'source = tides',
      steps: [
        {
          extract: {
            from: 'body',
            template: '{gauge},{at:iso},{height:number},{wind:number},{water:number},{battery:int}',
          },
          'on-failure': 'reject',
        },
        { 'set-time': { from: 'at' } },
        { 'drop-body': {} },
      ],
      tests: [
        {
          name: 'a measurement',
          input: 'tide-2,2026-01-15T11:59:02.000Z,1.724,7.1,8.9,88',
          expect: { gauge: 'tide-2', height: 1.724, battery: 88, body: '' },
        },
      ],
    },
    {
      id: 'harbour-desk',
      title: 'Harbour desk',
      when: 'source = harbour-desk',
      steps: [
        { extract: { from: 'body', template: '{at:iso} {level} {logger} - {message:rest}' } },
        { 'set-time': { from: 'at' } },
        { 'set-severity': { from: 'level' } },
      ],
    },
    {
      id: 'service-times',
      title: 'Times of services',
      when: 'has took_ms',
      steps: [
        { convert: { field: 'took_ms', to: 'duration', unit: 'ms' } },
        { rename: { from: 'took_ms', to: 'took' } },
      ],
    },
  ],
  tiers: [
    { id: 'incidents', title: 'Incidents', when: 'severity >= error', keep: '30d' },
    { id: 'audit', title: 'Audit trail', when: 'source = audit', keep: '400d' },
    {
      id: 'bookings',
      title: 'Bookings and harbour',
      when: 'source in (booking-web, booking-api, payments, timetable, berth-planner)',
      keep: '15d',
      exclusions: [{ id: 'probes', title: 'Health probes', when: 'path = /health*', keep: 'all' }],
      cap: { day: '87 MB', over: 'sample' },
    },
    {
      id: 'rest',
      title: 'Everything else',
      when: 'not source = notices',
      keep: '3d',
      exclusions: [
        {
          id: 'learned',
          title: 'Learned addresses',
          when: 'source = pier-network "learned address"',
          keep: 'none',
          reason: 'read only when a storm is near',
          owner: 'network',
        },
      ],
    },
  ],
  metrics: [
    {
      id: 'booking-requests',
      name: 'booking.requests',
      help: 'How busy the booking site is, and how it answers.',
      when: 'source = booking-web not path = /health*',
      measure: 'count',
      by: [{ field: 'status' }, { field: 'path', top: 10 }],
    },
    {
      id: 'booking-took',
      name: 'booking.took',
      help: 'How long people wait for the booking site.',
      when: 'source = booking-web not path = /health*',
      measure: 'distribution',
      of: 'took',
      by: [{ field: 'path', top: 10 }],
      unit: 's',
    },
    {
      id: 'payments-amount',
      name: 'payments.amount',
      when: 'source = payments',
      measure: 'sum',
      of: 'amount',
      by: [{ field: 'acquirer' }, { field: 'outcome' }],
    },
    {
      id: 'gates-scans',
      name: 'gates.scans',
      help: 'Tickets scanned at the gates.',
      when: 'source = gates has result',
      measure: 'count',
      by: [{ field: 'emitter' }],
    },
    {
      id: 'planner-misses',
      name: 'planner.cache.misses',
      when: 'source = berth-planner cache = miss',
      measure: 'rate',
      by: [{ field: 'host' }],
    },
    {
      id: 'timetable-clients',
      name: 'timetable.clients',
      when: 'source = timetable',
      measure: 'distinct',
      of: 'client',
    },
  ],
  rankings: [
    {
      id: 'pages',
      title: 'Pages of the booking site',
      when: 'source = booking-web',
      by: ['path', 'status'],
      measure: 'bytes',
    },
    {
      id: 'acquirers',
      title: 'Money by acquirer',
      when: 'source = payments outcome = accepted',
      by: ['acquirer'],
      measure: 'sum',
      of: 'amount',
    },
  ],
  postures: [
    {
      id: 'storm-watch',
      title: 'Storm watch',
      reason: 'When the harbour office gives a storm warning, every line is wanted.',
      overrides: [
        { exclusion: '*', keep: 'all' },
        { tier: 'rest', keep: '7d' },
        { tier: 'bookings', cap: 'lifted' },
      ],
    },
  ],
};
