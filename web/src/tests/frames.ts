import type { Frame } from '@/live/useBench'

/** A limit of a frame. */
export function aLimit(
  name: string,
  label: string,
  unit: string,
  limit: number | null,
  changed: Partial<Frame['limits'][number]> = {},
): Frame['limits'][number] {
  return {
    name,
    channel: name,
    label,
    unit,
    limit,
    stand_limit: null,
    state: 'on',
    off_by: '',
    ...changed,
  }
}

/** A frame of a run at 60 %. */
export function aFrame(changed: Partial<Frame> = {}): Frame {
  return {
    number: 1,
    state: 'running',
    message: 'Running.',
    link: true,
    simulated: true,
    drives: true,
    has_hand: true,
    by_hand: null,
    stand: 'simulated stand',
    stands: ['simulated stand'],
    time_s: 12.5,
    values: { throttle_pct: 60, thrust_gf: 481, current_a: 7.5, motor_temp_c: 41.2 },
    progress: {
      elapsed_s: 9,
      total_s: 26,
      label: '2 of 5: 60 %',
      steps: ['zero before', '1 of 5: 20 %', '2 of 5: 60 %', 'down'],
      step: 2,
      next: null,
    },
    picture: null,
    after: null,
    kind: 'steps',
    expected: [{ name: 'max_thrust_gf', value: 1125, u: 23 }],
    run_id: 'uid-27',
    title: 'Drift A · Wickett',
    operator: 'Ilse',
    operator_id: 1,
    page_grace_s: 2,
    limits: [
      aLimit('current_a', 'Current', 'A', 9, { stand_limit: 80 }),
      aLimit('motor_temp_c', 'Motor temperature', '°C', 90),
      aLimit('thrust_gf', 'Thrust', 'gf', 400),
    ],
    end: null,
    ready_in_s: 185,
    waiting_runs: 0,
    delivery_problem: '',
    set_aside: [],
    bad_lines: 0,
    bad_line: '',
    dropped_samples: 0,
    ...changed,
  }
}
