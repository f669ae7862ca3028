<script setup lang="ts">
/** Taking a motor in, with its size code read and its peers named while it is typed. */
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useInHand } from '@/app/useInHand'
import Figure from '@/figures/Figure.vue'
import { readTyped } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import FieldRow from '@/forms/FieldRow.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { choices, wordOf } from '@/words/words'

const EMPTY = {
  kind: 'outrunner',
  maker: '',
  name: '',
  size_code: '',
  basis: '',
  kv: '',
  marks: 'A',
  obtained: 'bought',
  from: '',
  turning: 'unknown',
  note: '',
}
// The draft outlives a reload and a lost server.
const draft = useLocalStorage('spindle.intake-draft', { ...EMPTY }, { mergeDefaults: true })
const BASES = computed(() => [{ key: '', label: 'what it looks like' }, ...choices('size_basis')])
const router = useRouter()
const inHand = useInHand()
const size = ref<Schemas['SizeReading'] | null>(null)
const sizeProblem = ref('')

watchDebounced(
  () => [draft.value.size_code, draft.value.basis, draft.value.kind] as const,
  async ([text, basis, kind]) => {
    size.value = null
    sizeProblem.value = ''
    if (!text.trim()) return
    try {
      const query = {
        text,
        basis: (basis || undefined) as Schemas['SizeBasisEnum'] | undefined,
        kind: kind as Schemas['MotorKindEnum'],
      }
      size.value = dataOf(await api.GET('/api/v1/size-code/', { params: { query } }))
    } catch (failure) {
      sizeProblem.value = sentenceOf(failure)
    }
  },
  { debounce: 250, immediate: true },
)

const typedKv = computed(() => readTyped(draft.value.kv, [50, 30_000]))
const kv = computed(() => (typedKv.value.kind === 'number' ? typedKv.value.value : null))
const kvFault = computed(() => {
  if (typedKv.value.kind === 'wrong') return typedKv.value.why
  if (kv.value === null || kv.value > 0) return ''
  return 'A number of rpm/V; leave it empty where no kV is printed.'
})
const complete = computed(
  () =>
    draft.value.maker &&
    draft.value.name &&
    (size.value !== null || (!draft.value.size_code.trim() && noCodeMeant.value)) &&
    !kvFault.value &&
    (kv.value !== null || draft.value.kind === 'brushed' || emptyKvMeant.value),
)
// A brushed can rarely has one; an outrunner without a kV label is asked about once.
const emptyKvMeant = ref(false)

/** Some motors have no code at all; that is said, not overlooked. */
const noCodeMeant = ref(false)

const peers = ref<Schemas['Peer'][]>([])
watchDebounced(
  [size, kv],
  async () => {
    peers.value = []
    if (!size.value || !kv.value) return
    try {
      const query = {
        size_code: size.value.text,
        size_basis: size.value.basis as Schemas['SizeBasisEnum'],
        kv_rpm_per_v: kv.value,
      }
      peers.value = dataOf(await api.GET('/api/v1/peers/', { params: { query } }))
    } catch {
      // Peers are a hint; without the server there is none.
    }
  },
  { debounce: 300, immediate: true },
)

const taking = useWrite('motor', async (body: Schemas['NewMotorRequest']) =>
  dataOf(await api.POST('/api/v1/motors/', { body })),
)
const { problem, busy } = taking

async function takeIn() {
  if (!complete.value) return
  const motor = await taking.send({
    maker: draft.value.maker,
    name: draft.value.name,
    kind: draft.value.kind as Schemas['MotorKindEnum'],
    size_code: draft.value.size_code,
    size_basis: (draft.value.basis || null) as Schemas['SizeBasisEnum'] | null,
    kv_label_rpm_per_v: kv.value,
    sample_marks: draft.value.marks.split(/[\s,]+/).filter(Boolean),
    obtained: draft.value.obtained as Schemas['ObtainedEnum'],
    obtained_from: draft.value.from,
    turning: draft.value.turning as Schemas['TurningEnum'],
    note: draft.value.note,
  })
  if (!motor) return
  draft.value = { ...EMPTY }
  inHand.value = motor.id
  await router.push(`/intake/${motor.id}/parcel`)
}
</script>

<template>
  <el-form class="sheet" @submit.prevent="takeIn">
    <h2>A new motor</h2>
    <div class="line">
      <ChoiceField id="kind" v-model="draft.kind" label="Kind" :choices="choices('motor_kind')" />
      <TextField id="maker" v-model="draft.maker" label="Maker" :maxlength="60" />
      <TextField
        id="name"
        v-model="draft.name"
        label="Name"
        :maxlength="60"
        :problem="fieldMessage(problem, 'name')"
      />
    </div>
    <div class="line">
      <TextField
        id="size"
        v-model="draft.size_code"
        label="Size code"
        placeholder="2207, 2105.5 or 8x20"
        :problem="sizeProblem || fieldMessage(problem, 'size_code')"
      />
      <ChoiceField id="basis" v-model="draft.basis" label="which measures the" :choices="BASES" />
      <NumberField
        id="kv"
        v-model="draft.kv"
        label="kV on the label"
        unit="rpm/V"
        width="usual"
        :within="[50, 30_000]"
        :problem="kvFault || fieldMessage(problem, 'kv_label_rpm_per_v')"
      />
    </div>
    <p v-if="size" class="reading">
      Read as the {{ wordOf('size_basis', size.basis).toLowerCase() }}:
      <Figure :value="size.diameter_mm" unit="mm" /> across,
      <Figure :value="size.height_mm" unit="mm" /> high; stator volume
      <Figure :value="size.stator_volume_mm3" unit="mm³" :reason="size.absent_reason" />
      <span v-if="size.absent_reason" class="small">({{ size.absent_reason }})</span>. The kV label
      is a claim; the bench measures kV.
    </p>
    <p v-if="size?.doubt" class="doubt" role="status">{{ size.doubt }}</p>
    <p v-if="peers.length" class="small soft">
      Peers on the bench: {{ peers.map((peer) => peer.full_name).join(', ') }}.
    </p>
    <div class="line">
      <TextField id="marks" v-model="draft.marks" label="Sample marks" placeholder="A B C" />
      <ChoiceField
        id="turning"
        v-model="draft.turning"
        label="Turning direction"
        :choices="choices('turning')"
      />
      <ChoiceField
        id="obtained"
        v-model="draft.obtained"
        label="How it was obtained"
        :choices="choices('obtained')"
      />
      <TextField id="from" v-model="draft.from" label="From whom" :maxlength="120" />
    </div>
    <FieldRow for="note" label="Note" class="note">
      <el-input id="note" v-model="draft.note" type="textarea" :rows="2" />
    </FieldRow>
    <el-checkbox
      v-if="(size || noCodeMeant) && typedKv.kind === 'empty' && draft.kind === 'outrunner'"
      v-model="emptyKvMeant"
      class="meant"
      >No kV is printed on it</el-checkbox
    >
    <el-checkbox v-if="draft.name && !draft.size_code.trim()" v-model="noCodeMeant" class="meant"
      >It has no code at all</el-checkbox
    >
    <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
    <p class="small soft">Price, box, claims, mass, measures and fit come next, step by step.</p>
    <el-button type="primary" native-type="submit" :disabled="!complete" :loading="busy"
      >Take it in</el-button
    >
  </el-form>
</template>

<style scoped src="./intake.css"></style>
<style scoped>
.note {
  margin: 10px 0;
}
</style>
