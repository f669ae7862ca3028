<script setup lang="ts">
/** The few figures a motor is known by, each measured, or why it is not. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import FigureStill from '@/charts/FigureStill.vue'
import { stillOf } from '@/charts/stills'
import Figure from '@/figures/Figure.vue'
import { labelOf, unitOf } from '@/words/words'

const props = defineProps<{ file: Schemas['MotorFile']; performance?: Schemas['Performance'] }>()

interface Row {
  label: string
  unit: string
  figure: Schemas['StatedFigure']
  from: string
}
const absent = (reason: string): Schemas['StatedFigure'] => ({
  value: null,
  u: null,
  n: null,
  origin: '',
  reason,
  assumed: false,
})
const held = (quantity: string) => props.file.key_figures.find((row) => row.quantity === quantity)
const claimed = (quantity: string) =>
  props.file.claims.find((claim) => claim.quantity === quantity && claim.value !== null)

const rows = computed<Row[]>(() => {
  const found: Row[] = ['mass_g', 'kv_rpm_per_v', 'no_load_current_a'].map((quantity) => ({
    label: quantity === 'mass_g' ? 'Mass' : labelOf(quantity),
    unit: quantity === 'mass_g' ? 'g' : unitOf(quantity),
    figure: held(quantity)?.measured ?? absent('not measured'),
    from: held(quantity)?.rests_on ?? '',
  }))
  const said = claimed('resistance_mohm')
  found.push({
    label: 'Resistance',
    unit: 'mΩ',
    figure: absent('no run identifies it yet'),
    from: said ? `claimed ${said.value} mΩ by the ${said.source}` : '',
  })
  const heat = props.performance?.heat ?? []
  for (const { name, run, figure } of heat.slice(0, 2))
    found.push({ label: labelOf(name), unit: unitOf(name), figure, from: `run ${run}` })
  if (!heat.length)
    found.push({ label: 'Heat', unit: 'W', figure: absent('no soak was run'), from: '' })
  return found
})
const name = computed(() => props.file.motor.full_name)
const stills = computed(() =>
  rows.value.flatMap((row) => stillOf(row.label, row.figure, row.unit, row.from) ?? []),
)
</script>

<template>
  <section class="sheet" aria-label="Key figures">
    <h2>
      Key figures
      <FigureStill :name="`motor-${file.motor.id}`" :title="name" :figures="stills" />
    </h2>
    <dl>
      <div v-for="row in rows" :key="row.label">
        <dt>{{ row.label }}</dt>
        <dd>
          <Figure
            :value="row.figure.value"
            :u="row.figure.u"
            :assumed="row.figure.assumed"
            :estimated="row.figure.origin === 'estimated'"
            :unit="row.unit"
            :reason="row.figure.reason"
          />
          <span class="soft small">{{ row.from || row.figure.reason }}</span>
        </dd>
      </div>
    </dl>
  </section>
</template>

<style scoped>
dl {
  margin: 4px 0 0;
}
dl > div {
  display: grid;
  grid-template-columns: minmax(112px, 1fr) 2.6fr;
  gap: 8px;
  padding: 3px 0;
  border-bottom: 1px solid var(--line-soft);
}
dd {
  margin: 0;
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: baseline;
}
dd .small {
  text-align: right;
}
dt {
  color: var(--ink-soft);
}
</style>
