/** What somebody says of a pack: which of its motors, samples and propellers are ours. */

export interface SaidMotor {
  ours: number | null
  /** Begin a file for it, since none is here. */
  begin: boolean
  /** Their mark → our sample that is the very same. */
  samples: Record<string, number>
}

export interface Said {
  motors: Record<string, SaidMotor>
  propellers: Record<string, number | null>
}

interface Thing {
  key: string
  ours: number | null
}
interface MotorThing extends Thing {
  samples: readonly (string | { mark: string; ours: number | null })[]
}

/** As it is proposed, or as it was said before. */
export function saidOf(motors: readonly MotorThing[], propellers: readonly Thing[]): Said {
  return {
    motors: Object.fromEntries(
      motors.map((one) => [
        one.key,
        {
          ours: one.ours,
          begin: false,
          samples: Object.fromEntries(
            one.samples.flatMap((sample) =>
              typeof sample !== 'string' && sample.ours !== null
                ? [[sample.mark, sample.ours]]
                : [],
            ),
          ),
        },
      ]),
    ),
    propellers: Object.fromEntries(propellers.map((one) => [one.key, one.ours])),
  }
}

/** As the server takes it; every sample is named, so that what was taken back is taken back. */
export function asSent(said: Said, motors: readonly MotorThing[]): string {
  const samples: Record<string, number | null> = {}
  for (const motor of motors)
    for (const sample of motor.samples) {
      const mark = typeof sample === 'string' ? sample : sample.mark
      samples[`${motor.key}/${mark}`] = said.motors[motor.key]?.samples[mark] ?? null
    }
  return JSON.stringify({
    motors: Object.fromEntries(
      Object.entries(said.motors).map(([key, one]) => [key, one.begin ? 'new' : one.ours]),
    ),
    samples,
    propellers: said.propellers,
  })
}
