<script setup lang="ts">
/** The parts in a box: count, thread and length, or inside, outside and height. */
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { offerUndo } from '@/app/offerUndo'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import { optional } from './typed'
import { SIZES_OF } from './words'
import { choices, wordOf } from '@/words/words'

const props = defineProps<{ parcel: Schemas['ParcelWithParts'] }>()
const { mayWrite } = useSession()
const EMPTY = {
  kind: 'mounting_screw',
  count: '',
  thread: '',
  length: '',
  inner: '',
  outer: '',
  height: '',
}
const draft = useLocalStorage(`spindle.part-${props.parcel.id}`, { ...EMPTY })
const fault = ref('')
const kindField = ref<{ focus: () => void } | null>(null)
const sizes = computed(() => SIZES_OF[draft.value.kind] ?? [])
const SIZES = ['thread', 'length', 'inner', 'outer', 'height'] as const
const HEADS = {
  thread: 'Thread',
  length: 'Length',
  inner: 'Inside',
  outer: 'Outside',
  height: 'Height',
}

const adding = useWrite('motor', (body: Schemas['PartRequest']) =>
  api.POST('/api/v1/parcels/{id}/parts/', { params: { path: { id: props.parcel.id } }, body }),
)
const taking = useWrite('motor', ({ id, version }: Schemas['Part']) =>
  api.DELETE('/api/v1/parts/{id}/', { params: { path: { id }, query: { version } } }),
)

async function take(part: Schemas['Part']) {
  if (!(await taking.send(part))) return
  offerUndo(wordOf('part_kind', part.kind), () => adding.sendOrThrow(part))
}

async function add() {
  fault.value = ''
  const body: Record<string, unknown> = { kind: draft.value.kind, count: Number(draft.value.count) }
  if (!/^\d+$/.test(draft.value.count.trim())) fault.value = 'How many are there? A whole number.'
  for (const size of sizes.value) {
    const value = optional(draft.value[size])
    if (value === undefined) fault.value = `${HEADS[size]}: a number in mm, or leave it empty.`
    body[`${size}_mm`] = value ?? null
  }
  if (fault.value) return
  const sent = await adding.send(body as Schemas['PartRequest'])
  if (!sent) return
  draft.value = { ...EMPTY, kind: draft.value.kind }
  await nextTick()
  kindField.value?.focus()
}

const problem = computed(() => adding.problem.value ?? taking.problem.value)
const first = computed(() => {
  for (const field of ['count', ...SIZES.map((size) => `${size}_mm`)]) {
    const message = fieldMessage(problem.value, field)
    if (message) return message
  }
  return problem.value ? sentenceOf(problem.value) : ''
})
</script>

<template>
  <table v-if="parcel.parts.length" class="grid">
    <thead>
      <tr>
        <th>Part</th>
        <th class="num">Count</th>
        <th v-for="size in SIZES" :key="size" class="num">{{ HEADS[size] }}</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="part in parcel.parts" :key="part.id">
        <td>
          {{ wordOf('part_kind', part.kind) }} <span class="soft small">{{ part.note }}</span>
        </td>
        <td class="num">{{ part.count }}</td>
        <td v-for="size in SIZES" :key="size" class="num">
          <Figure
            v-if="(SIZES_OF[part.kind] ?? []).includes(size)"
            :value="part[`${size}_mm`]"
            unit="mm"
          />
        </td>
        <td class="num">
          <el-button v-if="mayWrite" link size="small" @click="take(part)"
            >Take off<span class="visually-hidden"> {{ wordOf('part_kind', part.kind) }}</span>
          </el-button>
        </td>
      </tr>
    </tbody>
  </table>
  <p v-else class="soft">Nothing noted of the box yet.</p>
  <el-form v-if="mayWrite" class="line" @submit.prevent="add">
    <ChoiceField
      :id="`part-${parcel.id}`"
      ref="kindField"
      v-model="draft.kind"
      label="Part"
      :choices="choices('part_kind')"
    />
    <NumberField :id="`count-${parcel.id}`" v-model="draft.count" label="Count" />
    <NumberField
      v-for="size in sizes"
      :id="`${size}-${parcel.id}`"
      :key="size"
      v-model="draft[size]"
      :label="HEADS[size]"
      :unit="size === 'thread' ? 'M, mm' : 'mm'"
    />
    <el-button native-type="submit" :loading="adding.busy.value">Add to the box</el-button>
  </el-form>
  <p v-if="fault || first" class="field-problem" role="alert">{{ fault || first }}</p>
</template>

<style scoped src="./intake.css"></style>
