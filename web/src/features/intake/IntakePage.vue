<script setup lang="ts">
/** Is the parcel what it says? Taking a motor in, with its size code read while it is typed. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { motorsQuery, refreshRecord } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'

const EMPTY = {
  maker: '',
  name: '',
  size_code: '',
  kv: '',
  marks: 'A',
  obtained: 'bought',
  turning: 'unknown',
  note: '',
}
// The draft outlives a reload and a lost server.
const draft = useLocalStorage('spindle.intake-draft', { ...EMPTY }, { mergeDefaults: true })
const { data: motors, isPending, error, refetch } = useQuery(motorsQuery())
const { mayWrite } = useSession()
const client = useQueryClient()
const router = useRouter()
const inHand = useInHand()
const problem = ref<unknown>(null)
const busy = ref(false)
const size = ref<Schemas['SizeReading'] | null>(null)
const sizeProblem = ref('')

const BASIS_WORDS: Record<string, string> = {
  stator: 'stator',
  outer_can: 'outer can',
  case: 'case of a brushed motor',
}

watchDebounced(
  () => draft.value.size_code,
  async (text) => {
    size.value = null
    sizeProblem.value = ''
    if (!text.trim()) return
    try {
      size.value = dataOf(await api.GET('/api/v1/size-code/', { params: { query: { text } } }))
    } catch (failure) {
      sizeProblem.value = sentenceOf(failure)
    }
  },
  { debounce: 250, immediate: true },
)

const kv = computed(() => Number(draft.value.kv.replace(',', '')))
const complete = computed(
  () => draft.value.maker && draft.value.name && size.value !== null && kv.value > 0,
)

async function takeIn() {
  problem.value = null
  busy.value = true
  try {
    const marks = draft.value.marks.split(/[\s,]+/).filter(Boolean)
    const motor = dataOf(
      await api.POST('/api/v1/motors/', {
        body: {
          maker: draft.value.maker,
          name: draft.value.name,
          size_code: draft.value.size_code,
          kv_label_rpm_per_v: kv.value,
          sample_marks: marks,
          obtained: draft.value.obtained as Schemas['ObtainedEnum'],
          turning: draft.value.turning as Schemas['TurningEnum'],
          note: draft.value.note,
        },
      }),
    )
    draft.value = { ...EMPTY }
    inHand.value = motor.id
    await refreshRecord(client)
    await router.push(`/motors/${motor.id}`)
  } catch (failure) {
    problem.value = failure
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <h1>Intake</h1>
  <div class="columns">
    <form v-if="mayWrite" class="sheet" @submit.prevent="takeIn">
      <h2>A new motor</h2>
      <div class="pair">
        <div>
          <label for="maker">Maker</label>
          <el-input id="maker" v-model="draft.maker" maxlength="60" />
        </div>
        <div>
          <label for="name">Name</label>
          <el-input id="name" v-model="draft.name" maxlength="60" />
          <p class="field-problem">{{ fieldMessage(problem, 'name') }}</p>
        </div>
      </div>
      <div class="pair">
        <div>
          <label for="size">Size code</label>
          <el-input id="size" v-model="draft.size_code" placeholder="2207, 2105.5 or 8x20" />
          <p class="field-problem">{{ sizeProblem || fieldMessage(problem, 'size_code') }}</p>
          <p v-if="size" class="reading">
            Read as the {{ BASIS_WORDS[size.basis] }}:
            <Figure :value="size.diameter_mm" unit="mm" /> across,
            <Figure :value="size.height_mm" unit="mm" /> high; stator volume
            <Figure :value="size.stator_volume_mm3" unit="mm³" :reason="size.absent_reason" />
          </p>
        </div>
        <div>
          <label for="kv">kV on the label <span class="unit">(rpm/V)</span></label>
          <el-input id="kv" v-model="draft.kv" inputmode="numeric" />
          <p class="field-problem">{{ fieldMessage(problem, 'kv_label_rpm_per_v') }}</p>
          <p class="small soft">The label is a claim; the bench measures kV.</p>
        </div>
      </div>
      <div class="pair">
        <div>
          <label for="marks">Samples, by their marks</label>
          <el-input id="marks" v-model="draft.marks" placeholder="A B C" />
        </div>
        <div>
          <label for="obtained">How it was obtained</label>
          <select id="obtained" v-model="draft.obtained">
            <option value="bought">Bought</option>
            <option value="loaned">Loaned</option>
            <option value="given">Given</option>
            <option value="sponsored">Sponsored</option>
            <option value="own_design">Own design</option>
            <option value="early">Early access</option>
            <option value="unknown">Unknown</option>
          </select>
        </div>
        <div>
          <label for="turning">Turning direction</label>
          <select id="turning" v-model="draft.turning">
            <option value="unknown">Unknown</option>
            <option value="cw">Clockwise</option>
            <option value="ccw">Counter-clockwise</option>
          </select>
        </div>
      </div>
      <label for="note">Note</label>
      <el-input id="note" v-model="draft.note" type="textarea" :rows="2" />
      <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
      <el-button type="primary" native-type="submit" :disabled="!complete" :loading="busy"
        >Take it in</el-button
      >
    </form>

    <section class="sheet">
      <h2>On the bench</h2>
      <PageState :loading="isPending" :error="error" :retry="refetch" />
      <p v-if="motors && !motors.length" class="soft">Nothing yet.</p>
      <ul v-else-if="motors" class="list">
        <li v-for="motor in motors" :key="motor.id">
          <MotorMark :motor="motor.id" />
          <RouterLink :to="`/motors/${motor.id}`" @click="inHand = motor.id">{{
            motor.full_name
          }}</RouterLink>
          <span class="soft small">
            {{ motor.samples.map((sample) => sample.mark).join(' ') }} ·
            {{ motor.claim_count }} claims
          </span>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 16px;
  margin-top: 14px;
  align-items: start;
}
.pair {
  display: flex;
  gap: 14px;
}
.pair > div {
  flex: 1;
  min-width: 0;
}
label {
  display: block;
  margin: 10px 0 3px;
}
.unit {
  font-size: 12px;
  color: var(--ink-soft);
}
select {
  width: 100%;
  height: 32px;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  background: var(--el-fill-color-blank);
  padding: 0 8px;
}
.field-problem {
  color: var(--stop);
  font-size: 13px;
  margin: 3px 0 0;
}
.reading {
  background: var(--within-soft);
  border-left: 3px solid var(--within);
  padding: 5px 9px;
  margin: 6px 0 0;
  font-size: 13px;
}
.problem {
  color: var(--stop);
  margin-top: 10px;
}
.el-button {
  margin-top: 14px;
}
.list {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
.list .small {
  margin-left: 8px;
}
.list li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line-soft);
}
</style>
