<script setup lang="ts">
/** What reads each channel: how fine, how far, how well, and whether it shows or keeps. */
import { computed, ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { numberFault } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import { choices, labelOf, unitOf, wordOf } from '@/words/words'
import { asKept, asText } from './percent'

const props = defineProps<{ stand: Schemas['StandSheet'] }>()
const { mayWrite } = useSession()
/** What is read on a bench, in the order of the sheet; a command needs no instrument. */
const CHANNELS = [
  'thrust_gf',
  'voltage_v',
  'current_a',
  'power_w',
  'speed_rpm',
  'torque_nm',
  'motor_temp_c',
  'ambient_temp_c',
  'vibration_g',
] as const
const channels = computed(() => CHANNELS.map((key) => ({ key, label: labelOf(key) })))
const EMPTY = { channel: '', kind: '', step: '', to: '', u: '', keeps: 'live', signal: 'own' }
const draft = ref({ ...EMPTY })
const there = computed(
  () => props.stand.instruments.find((row) => row.channel === draft.value.channel) ?? null,
)
function edit(row: Schemas['Instrument']) {
  draft.value = {
    channel: row.channel,
    kind: row.kind,
    step: asText(row.step),
    to: asText(row.range_to),
    u: asText(row.relative_u, 100),
    keeps: row.keeps ?? 'live',
    signal: row.signal ?? 'own',
  }
}
const writing = useWrite('stand', (body: Schemas['InstrumentRequest']) =>
  api.POST('/api/v1/stands/{id}/instruments/', { params: { path: { id: props.stand.id } }, body }),
)
const { problem, busy } = writing
const ready = computed(
  () =>
    draft.value.channel &&
    draft.value.kind &&
    ![draft.value.step, draft.value.to, draft.value.u].some((text) => numberFault(text)),
)
async function keep() {
  if (!ready.value) return
  const { channel, kind, step, to, u, keeps, signal } = draft.value
  const sent = await writing.send({
    channel,
    kind,
    step: asKept(step),
    range_to: asKept(to),
    relative_u: asKept(u, 100),
    keeps,
    signal,
    version: there.value?.version,
  } as Schemas['InstrumentRequest'])
  if (sent) draft.value = { ...EMPTY }
}
const unit = computed(() => (draft.value.channel ? unitOf(draft.value.channel) : ''))
</script>

<template>
  <h2>Instruments</h2>
  <p v-if="!stand.instruments.length" class="soft">
    None is named: each channel is taken for what usually reads it, with the accuracy that makers of
    such instruments promise.
  </p>
  <table v-else class="grid">
    <thead>
      <tr>
        <th>Reads</th>
        <th>With</th>
        <th class="num">Step</th>
        <th class="num">Up to</th>
        <th class="num">u</th>
        <th>Shows</th>
        <th>Signal</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in stand.instruments" :key="row.id">
        <td>{{ labelOf(row.channel) }}</td>
        <td>{{ wordOf('instrument_kind', row.kind) }}</td>
        <td class="num">
          <Figure :value="row.step" :unit="unitOf(row.channel)" reason="not noted" />
        </td>
        <td class="num">
          <Figure :value="row.range_to" :unit="unitOf(row.channel)" reason="not noted" />
        </td>
        <td class="num">
          <Figure v-if="row.relative_u != null" :value="100 * row.relative_u" unit="%" />
          <span v-else class="soft small assumed">~ {{ row.assumed_words }}</span>
        </td>
        <td>{{ wordOf('instrument_keeps', row.keeps) }}</td>
        <td>{{ wordOf('instrument_signal', row.signal) }}</td>
        <td class="num">
          <el-button v-if="mayWrite" link size="small" @click="edit(row)"
            >Change<span class="visually-hidden"> {{ labelOf(row.channel) }}</span></el-button
          >
        </td>
      </tr>
    </tbody>
  </table>
  <el-form v-if="mayWrite" class="line" @submit.prevent="keep">
    <ChoiceField v-model="draft.channel" label="Channel" :choices="channels" />
    <ChoiceField
      v-model="draft.kind"
      label="Is read with"
      :choices="choices('instrument_kind')"
      :problem="fieldMessage(problem, 'kind')"
    />
    <NumberField v-model="draft.step" label="Step" :unit="unit" placeholder="unknown" />
    <NumberField v-model="draft.to" label="Up to" :unit="unit" placeholder="unknown" />
    <NumberField v-model="draft.u" label="u, declared" unit="%" placeholder="unknown" />
    <ChoiceField v-model="draft.keeps" label="Shows" :choices="choices('instrument_keeps')" />
    <ChoiceField v-model="draft.signal" label="Signal" :choices="choices('instrument_signal')" />
    <el-button native-type="submit" :disabled="!ready" :loading="busy">{{
      there ? 'Keep the change' : 'Name it'
    }}</el-button>
  </el-form>
  <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
</template>

<style scoped src="./rig.css"></style>
