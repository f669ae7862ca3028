<script setup lang="ts">
/** Rows of one motor under one propeller from one supply, and what was noticed of them. */
import { computed, ref } from 'vue'
import { fieldMessage, type Schemas } from '@/api/client'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import SampleField from '@/forms/SampleField.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'
import NoticedFields from './NoticedFields.vue'
import ReadingsGrid from './ReadingsGrid.vue'
import type { Column, Units } from './sheet'
import type { BlockDraft } from './sheetDraft'

const props = defineProps<{
  /** Which of several; null for the only one. */
  number: number | null
  place: number
  supplies: readonly { key: number; label: string }[]
  /** Which of them are packs. */
  packs: readonly number[]
  columns: readonly Column[]
  units: Units
  looks: readonly Schemas['RowLook'][]
  checked: boolean
  overruns: boolean
  problem: unknown
}>()
const emit = defineEmits<{ drop: [] }>()
const block = defineModel<BlockDraft>({ required: true })
const KINDS = [
  { key: 'held' as const, label: 'all figures of one instant' },
  { key: 'maxima' as const, label: 'what the meter kept: lowest V, largest A and W' },
]
/** Its fields are made when somebody looks. */
const open = ref(false)
const PACK_STATES = computed(() => [{ key: '', label: 'not noted' }, ...choices('pack_state')])
const isPack = computed(() => props.packs.includes(block.value.supply))
const PURPOSES = computed(() => [{ key: '', label: 'not said' }, ...choices('purpose')])
const put = <K extends keyof BlockDraft>(key: K, value: BlockDraft[K]) => {
  block.value = { ...block.value, [key]: value }
}
const said = (field: string) => fieldMessage(props.problem, `blocks.${props.place}.${field}`)
const id = (field: string) => `readings-${field}${props.number ? `-${props.number}` : ''}`
</script>

<template>
  <section class="block" :aria-label="number ? `Block ${number}` : 'Rows'">
    <div class="of">
      <strong v-if="number" class="mark">{{ number }}</strong>
      <SampleField
        :id="id('sample')"
        :model-value="block.sample"
        label="Motor and sample"
        width="wide"
        :problem="said('sample')"
        @update:model-value="put('sample', $event)"
      />
      <PropellerField
        :id="id('propeller')"
        :model-value="block.propeller"
        label="Propeller"
        width="wide"
        :problem="said('propeller')"
        @update:model-value="put('propeller', $event)"
      />
      <ChoiceField
        :model-value="block.supply"
        label="Supply"
        :choices="supplies"
        @update:model-value="put('supply', $event ?? 0)"
      />
    </div>
    <div class="of">
      <template v-if="isPack">
        <ChoiceField
          :model-value="block.pack_state"
          label="The pack was"
          :choices="PACK_STATES"
          @update:model-value="put('pack_state', $event ?? '')"
        />
        <NumberField
          :model-value="block.pack_rest_v"
          label="At rest, all or a cell"
          unit="V"
          width="usual"
          :within="[0.5, 120]"
          :problem="said('pack_rest_v')"
          @update:model-value="put('pack_rest_v', $event)"
        />
      </template>
      <ChoiceField
        :model-value="block.kind"
        label="A row is"
        width="usual"
        :choices="KINDS"
        @update:model-value="put('kind', $event ?? 'held')"
      />
      <el-checkbox
        :model-value="block.averaged"
        label="rows at one throttle are bursts, averaged"
        @update:model-value="put('averaged', Boolean($event))"
      />
      <el-button v-if="number" link @click="emit('drop')"
        >Take off<span class="visually-hidden"> block {{ number }}</span></el-button
      >
    </div>
    <ReadingsGrid
      :model-value="block.rows"
      :looks="looks"
      :checked="checked"
      :columns="columns"
      :units="units"
      :prefix="number ? `Block ${number}, row` : 'Row'"
      @update:model-value="put('rows', $event)"
    />
    <TextField
      v-if="overruns || block.overrun_reason"
      :model-value="block.overrun_reason"
      label="Why was it run beyond a rating?"
      :problem="said('overrun_reason')"
      width="wide"
      @update:model-value="put('overrun_reason', $event)"
    />
    <details :open="open" @toggle="open = ($event.target as HTMLDetailsElement).open">
      <summary>What was noticed, what it was for</summary>
      <NoticedFields
        v-if="open"
        :model-value="block.noticed"
        @update:model-value="put('noticed', $event)"
      />
      <div v-if="open" class="of">
        <ChoiceField
          :model-value="block.purpose"
          label="It was run"
          :choices="PURPOSES"
          @update:model-value="put('purpose', $event ?? '')"
        />
        <TextField
          :model-value="block.note"
          label="Note"
          width="wide"
          @update:model-value="put('note', $event)"
        />
      </div>
    </details>
  </section>
</template>

<style scoped>
.block {
  border-top: 1px solid var(--line);
  padding-top: 8px;
  margin-top: 8px;
}
.of {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
  margin: 0 0 8px;
}
.mark {
  align-self: center;
  font-size: 18px;
}
details {
  margin: 4px 0;
}
summary {
  cursor: pointer;
  color: var(--ink-soft);
  padding: 4px 0;
}
</style>
