<script setup lang="ts">
/** What the run will draw and give, held against the limits that are set, before it is armed. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { type AskedRun, expectationQuery } from '@/api/queries'
import Figure from '@/figures/Figure.vue'
import { readTyped } from '@/figures/readNumber'
import { labelOf, midSentence, unitOf } from '@/words/words'
import { againstLimit, LIMIT_OF } from './expected'

const props = defineProps<{
  sample: number | null
  propeller: number | null
  supply: number | null
  kind: string
  needsPropeller: boolean
  highest_pct: number | null
  /** The limits that are typed, by their names. */
  limits: Record<string, string>
  off: readonly string[]
}>()
const { data } = useQuery(
  computed(() =>
    expectationQuery({
      kind: props.kind as AskedRun['kind'],
      sample: props.sample,
      propeller: props.needsPropeller ? props.propeller : null,
      needs_propeller: props.needsPropeller,
      supply: props.supply,
      highest_pct: props.highest_pct ?? undefined,
    }),
  ),
)
const rows = computed(() =>
  (data.value?.figures ?? [])
    .filter((row) => row.figure.value !== null)
    .map((row) => {
      const limit = LIMIT_OF[row.name]
      const typed =
        limit && !props.off.includes(limit) ? readTyped(props.limits[limit] ?? '') : null
      const set = typed?.kind === 'number' ? typed.value : null
      return { ...row, against: againstLimit(row.figure.value ?? 0, row.figure.u ?? 0, set) }
    }),
)
</script>

<template>
  <section v-if="data" class="expected" aria-label="What to expect">
    <h2>What to expect</h2>
    <ul v-if="rows.length">
      <li v-for="row in rows" :key="row.name">
        {{ labelOf(row.name) }}
        <strong
          ><Figure
            estimated
            :value="row.figure.value"
            :u="row.figure.u"
            :unit="unitOf(row.name)" /></strong
        ><span v-if="row.against" :class="row.against.state" role="status"
          >: {{ row.against.words }}</span
        >
      </li>
    </ul>
    <p class="note">
      {{ rows.length ? 'It rests on' : 'Nothing can be expected' }}:
      {{ midSentence(data.rests_on) }}.
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin: 12px 0 0;
  font-size: 14px;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  font-size: 13px;
}
li {
  margin-top: 3px;
}
.far {
  color: var(--dark-soft);
}
.near,
.beyond {
  color: var(--dark-caution);
}
.beyond {
  font-weight: 700;
}
.note {
  font-size: 12.5px;
  color: var(--dark-soft);
  margin: 4px 0 0;
}
</style>
