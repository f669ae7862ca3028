<script setup lang="ts">
/** The parts in a box: count, thread and length, or inside, outside and height. */
import { useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { optional } from './typed'
import { SIZES_OF } from './words'
import { choices, wordOf } from '@/words/words'

const props = defineProps<{ parcel: Schemas['ParcelWithParts'] }>()
const { mayWrite } = useSession()
const client = useQueryClient()
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
const problem = ref<unknown>(null)
const fault = ref('')
const kindField = ref<HTMLSelectElement | null>(null)
const sizes = computed(() => SIZES_OF[draft.value.kind] ?? [])
const SIZES = ['thread', 'length', 'inner', 'outer', 'height'] as const
const HEADS = {
  thread: 'Thread',
  length: 'Length',
  inner: 'Inside',
  outer: 'Outside',
  height: 'Height',
}

async function act(request: Promise<unknown>): Promise<boolean> {
  problem.value = null
  try {
    await request
    await refreshRecord(client)
    return true
  } catch (failure) {
    problem.value = failure
    return false
  }
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
  const sent = await act(
    api.POST('/api/v1/parcels/{id}/parts/', {
      params: { path: { id: props.parcel.id } },
      body: body as Schemas['PartRequest'],
    }),
  )
  if (!sent) return
  draft.value = { ...EMPTY, kind: draft.value.kind }
  await nextTick()
  kindField.value?.focus()
}

const remove = ({ id, version }: Schemas['Part']) =>
  act(api.DELETE('/api/v1/parts/{id}/', { params: { path: { id }, query: { version } } }))
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
          <button v-if="mayWrite" type="button" class="plain" @click="remove(part)">
            Take off<span class="visually-hidden"> {{ wordOf('part_kind', part.kind) }}</span>
          </button>
        </td>
      </tr>
    </tbody>
  </table>
  <p v-else class="soft">Nothing noted of the box yet.</p>
  <form v-if="mayWrite" class="line" @submit.prevent="add">
    <div>
      <label :for="`part-${parcel.id}`">Part</label>
      <select :id="`part-${parcel.id}`" ref="kindField" v-model="draft.kind">
        <option v-for="one in choices('part_kind')" :key="one.key" :value="one.key">
          {{ one.label }}
        </option>
      </select>
    </div>
    <div class="narrow">
      <label :for="`count-${parcel.id}`">Count</label>
      <input :id="`count-${parcel.id}`" v-model="draft.count" class="num" inputmode="numeric" />
    </div>
    <div v-for="size in sizes" :key="size" class="narrow">
      <label :for="`${size}-${parcel.id}`"
        >{{ HEADS[size] }}
        <span class="soft">({{ size === 'thread' ? 'M, mm' : 'mm' }})</span></label
      >
      <input :id="`${size}-${parcel.id}`" v-model="draft[size]" class="num" inputmode="decimal" />
    </div>
    <el-button native-type="submit">Add to the box</el-button>
  </form>
  <p v-if="fault || first" class="field-problem" role="alert">{{ fault || first }}</p>
</template>

<style scoped src="./intake.css"></style>
