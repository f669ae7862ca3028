<script setup lang="ts">
/** What the gear allows: of each kind of limit the one that binds, and the others behind it. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { gearLimitsQuery } from '@/api/rigQueries'
import { figureText } from '@/figures/format'
import { readTyped } from '@/figures/readNumber'
import { labelOf, unitOf } from '@/words/words'
import { limitOfChannel } from './limits'

const props = defineProps<{
  sample: number | null
  supply: number | null
  stand: number | null
  /** The limits that are typed, by their names. */
  limits: Record<string, string>
}>()
const { data } = useQuery(computed(() => gearLimitsQuery(props.sample, props.supply, props.stand)))
const shown = (value: number) => figureText(value).value
const rows = computed(() =>
  (data.value ?? []).map((row) => {
    const [binding, ...others] = row.known
    const typed = readTyped(props.limits[limitOfChannel(row.channel, row.side)] ?? '')
    const set = typed.kind === 'number' ? typed.value : null
    const beyond =
      binding && set !== null && (row.side === 'most' ? set > binding.value : set < binding.value)
    return {
      key: `${row.channel}/${row.side}`,
      label: `${labelOf(row.channel)}, at ${row.side}`,
      unit: unitOf(row.channel),
      binding,
      others,
      unknown: row.unknown,
      beyond: beyond ? set : null,
    }
  }),
)
</script>

<template>
  <section v-if="rows.length" class="gear" aria-label="What the gear allows">
    <h2>What the gear allows</h2>
    <ul>
      <li v-for="row in rows" :key="row.key">
        {{ row.label }}
        <template v-if="row.binding"
          ><strong>{{ shown(row.binding.value) }} {{ row.unit }}</strong> ({{
            row.binding.source
          }})<span v-for="one in row.others" :key="one.source" class="soft"
            >, {{ shown(one.value) }} {{ row.unit }} ({{ one.source }})</span
          ></template
        ><span v-if="row.unknown.length" class="unknown"
          >{{ row.binding ? '; ' : ' ' }}not known: {{ row.unknown.join(', ') }}</span
        >.
        <span v-if="row.beyond !== null" class="beyond" role="status"
          >The limit that is set, {{ shown(row.beyond) }} {{ row.unit }}, lies beyond it.</span
        >
      </li>
    </ul>
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
.soft,
.unknown {
  color: var(--dark-soft);
}
.beyond {
  color: var(--dark-caution);
  font-weight: 700;
}
</style>
