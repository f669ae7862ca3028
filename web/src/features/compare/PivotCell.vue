<script setup lang="ts">
/** A cell of the pivot, opened: its runs, and whether somebody would take it. */
import { computed, ref, watch } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import FigureStill from '@/charts/FigureStill.vue'
import { stillOf } from '@/charts/stills'
import Figure from '@/figures/Figure.vue'
import TextField from '@/forms/TextField.vue'
import { labelOf, unitOf } from '@/words/words'

type Cell = Schemas['PivotCell']
const props = defineProps<{ pivot: Schemas['Pivot']; cell: Cell | null; mayWrite: boolean }>()
const emit = defineEmits<{ close: [] }>()
const open = computed({
  get: () => props.cell !== null,
  set: (value: boolean) => {
    if (!value) emit('close')
  },
})
const motor = computed(() => props.pivot.motors.find((one) => one.motor === props.cell?.motor))
const column = computed(() =>
  props.pivot.propellers.find(
    (one) => one.name === props.cell?.propeller_name && one.supply === props.cell.supply,
  ),
)
const stillTitle = computed(() => `${motor.value?.name}, ${props.cell?.propeller_name}`)
const stills = computed(() => {
  const label = labelOf(props.pivot.name)
  const words = `${column.value?.on}${props.cell?.estimated ? '; estimated, never run' : ''}`
  const still = stillOf(label, props.cell?.figure, unitOf(props.pivot.name), words)
  return still ? [still] : []
})
const why = ref('')
watch(
  () => props.cell,
  (cell) => {
    why.value = cell?.pick?.why ?? ''
    picking.clear()
    dropping.clear()
  },
)
const picking = useWrite('pick', (body: Schemas['NewPickRequest']) =>
  api.POST('/api/v1/compare/picks/', { body }),
)
const dropping = useWrite('pick', (pick: Schemas['Pick']) =>
  api.DELETE('/api/v1/compare/picks/{id}/', {
    params: { path: { id: pick.id }, query: { version: pick.version } },
  }),
)
async function pick() {
  const cell = props.cell
  const propeller = column.value?.propeller
  if (!cell || !propeller) return
  const [supply = '', volts = '0'] = cell.supply.split('|')
  const made = await picking.send({
    motor: cell.motor,
    propeller,
    supply,
    voltage_v: Number(volts),
    why: why.value.trim(),
  })
  if (made) emit('close')
}
async function drop() {
  const held = props.cell?.pick
  if (!held) return
  if (await dropping.send(held)) emit('close')
}
const problem = computed(() => picking.problem.value ?? dropping.problem.value)
</script>

<template>
  <el-dialog
    v-model="open"
    :title="`${motor?.name ?? ''} on ${cell?.propeller_name ?? ''}`"
    width="min(520px, 94vw)"
    modal-class="below-strip"
    append-to-body
  >
    <template v-if="cell">
      <p>
        {{ labelOf(pivot.name) }} on {{ column?.on }}:
        <Figure
          :value="cell.figure.value"
          :u="cell.figure.u"
          :unit="unitOf(pivot.name)"
          :reason="cell.figure.reason"
          :estimated="cell.estimated"
        />
        <span v-for="mark in cell.marks" :key="mark" class="tag within">{{ mark }}</span>
        <FigureStill :name="`cell-${cell.motor}`" :title="stillTitle" :figures="stills" />
      </p>
      <p v-if="cell.made.length">
        From
        <template v-for="(run, index) in cell.made" :key="run"
          ><template v-if="index">, </template
          ><RouterLink :to="`/runs/${run}`">run {{ run }}</RouterLink></template
        >.
      </p>
      <template v-if="mayWrite && column?.propeller">
        <p v-if="cell.pick" class="soft">
          {{ cell.pick.by || 'Somebody' }} would take it on {{ column.on }}.
        </p>
        <TextField
          id="pick-why"
          v-model="why"
          label="Why one would take it at this voltage"
          :maxlength="300"
        />
        <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
      </template>
      <p v-else-if="cell.pick">
        {{ cell.pick.by || 'Somebody' }} would take it. {{ cell.pick.why }}
      </p>
    </template>
    <template v-if="mayWrite && column?.propeller" #footer>
      <el-button v-if="cell?.pick" :loading="dropping.busy.value" @click="drop"
        >Take the pick back</el-button
      >
      <el-button type="primary" :loading="picking.busy.value" @click="pick">{{
        cell?.pick ? 'Keep the reason' : 'Pick it'
      }}</el-button>
    </template>
  </el-dialog>
</template>
