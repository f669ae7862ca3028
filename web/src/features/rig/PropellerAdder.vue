<script setup lang="ts">
/** One more propeller, written as it is written on it; what that can mean is shown to choose. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { motorQuery } from '@/api/queries'
import { useInHand } from '@/app/useInHand'
import { useWrite } from '@/api/useWrite'
import { asKept, asText } from './percent'
import { numberFault } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'

type Reading = Schemas['PropellerReading']
const EMPTY = { maker: '', name: '', diameter: '', pitch: '', blades: '' }
const draft = ref({ ...EMPTY })
const written = ref('')
const asked = refDebounced(written, 250)
const inHand = useInHand()
const { data: motor } = useQuery(computed(() => motorQuery(inHand.value)))
const { data: readings, error } = useQuery(
  computed(() => ({
    queryKey: ['propellers', 'readings', asked.value, inHand.value],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/propellers/readings/', {
          params: { query: { text: asked.value, motor: inHand.value ?? undefined } },
        }),
      ),
    enabled: asked.value.trim().length > 0,
    retry: false,
  })),
)
const offered = computed(() => (asked.value.trim() ? (readings.value ?? []) : []))
/** The one that can be meant: alone, or alone in fitting the motor in hand. */
const proposed = computed(() => {
  if (offered.value.length === 1) return offered.value[0]
  const fit = offered.value.filter((one) => one.fits)
  return fit.length === 1 ? fit[0] : undefined
})
watch(proposed, (one) => one && take(one))
function take(one: Reading) {
  draft.value = {
    ...draft.value,
    diameter: asText(one.diameter_in),
    pitch: asText(one.pitch_in),
    blades: asText(one.blades),
  }
}
const sized = (one: Reading) =>
  [
    asText(one.diameter_in),
    one.pitch_in === null ? '' : asText(one.pitch_in),
    one.blades === null ? '' : `${one.blades} blades`,
  ]
    .filter(Boolean)
    .join(' × ')
const taken = (one: Reading) =>
  draft.value.diameter === asText(one.diameter_in) &&
  draft.value.pitch === asText(one.pitch_in) &&
  draft.value.blades === asText(one.blades)

const adding = useWrite('propeller', (body: Schemas['PropellerRequest']) =>
  api.POST('/api/v1/propellers/', { body }),
)
const { problem, busy } = adding
const ready = computed(
  () =>
    draft.value.maker.trim() &&
    draft.value.diameter &&
    !['diameter', 'pitch', 'blades'].some((key) =>
      numberFault(draft.value[key as 'pitch'], [0.1, 60]),
    ),
)
async function add() {
  if (!ready.value) return
  const sent = await adding.send({
    maker: draft.value.maker,
    name: draft.value.name,
    diameter_in: asKept(draft.value.diameter) ?? Number.NaN,
    pitch_in: asKept(draft.value.pitch),
    blades: asKept(draft.value.blades),
  })
  if (!sent) return
  draft.value = { ...EMPTY, maker: draft.value.maker }
  written.value = ''
}
</script>

<template>
  <el-form class="line" @submit.prevent="add">
    <TextField
      v-model="written"
      label="A new one, as it is written"
      placeholder="5x4.3x3, 51433, 940, 40mm"
      :problem="error && asked ? sentenceOf(error) : ''"
    />
    <TextField v-model="draft.maker" label="Maker" :problem="fieldMessage(problem, 'maker')" />
    <TextField v-model="draft.name" label="Name on it" width="narrow" />
    <NumberField
      v-model="draft.diameter"
      label="Diameter"
      unit="in"
      :problem="fieldMessage(problem, 'diameter_in')"
    />
    <NumberField
      v-model="draft.pitch"
      label="Pitch"
      unit="in"
      placeholder="unknown"
      :problem="fieldMessage(problem, 'pitch_in')"
    />
    <NumberField
      v-model="draft.blades"
      label="Blades"
      placeholder="unknown"
      :problem="fieldMessage(problem, 'blades')"
    />
    <el-button type="primary" native-type="submit" :disabled="!ready" :loading="busy"
      >Add</el-button
    >
  </el-form>
  <p v-if="offered.length > 1 || (offered[0] && !offered[0].certain)" class="means">
    <span class="soft">{{ asked }} can mean</span>
    <el-button
      v-for="one in offered"
      :key="one.how"
      size="small"
      :aria-pressed="taken(one)"
      :type="taken(one) ? 'primary' : 'default'"
      @click="take(one)"
      >{{ sized(one) }}</el-button
    >
    <span v-if="motor && offered.some((one) => one.fits)" class="soft small">
      {{ offered.filter((one) => one.fits).length }} of them fit {{ motor.full_name }}, in hand.
    </span>
    <span v-if="!proposed && offered.length > 1" class="soft small">Choose which.</span>
  </p>
  <p v-if="offered[0]?.there" class="soft small">
    In the library already: {{ offered[0].there }}. Another of the same size is told from it by its
    maker or name.
  </p>
  <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.means {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 8px 0 0;
}
</style>
