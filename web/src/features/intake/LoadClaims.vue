<script setup lang="ts">
/** The maker's table: what he states on one propeller and so many cells. */
import { computed, reactive, ref } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { offerUndo } from '@/app/offerUndo'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { readNumber } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { useForeseen } from '@/features/motor_file/useForeseen'

const props = defineProps<{ file: Schemas['MotorFile']; source: string; statedOn: string }>()
const { mayWrite } = useSession()
const id = computed(() => props.file.motor.id)
type Load = Schemas['LoadOnFile']
const foreseen = useForeseen(id, () => props.file.claimed_loads)

const FIGURES = [
  { name: 'thrust_gf', label: 'Thrust', unit: 'gf' },
  { name: 'current_a', label: 'Current', unit: 'A' },
  { name: 'power_w', label: 'Power', unit: 'W' },
] as const
const blank = () => ({ cells: '', propeller: '', thrust_gf: '', current_a: '', power_w: '' })
const typed = reactive(blank())
const saidOf = (load: Load, name: string) =>
  load.figures.find((one) => one.name === name)?.said ?? null

const adding = useWrite('motor', async (body: Schemas['ClaimedLoadRequest']) =>
  dataOf(
    await api.POST('/api/v1/motors/{id}/claimed-loads/', {
      params: { path: { id: id.value } },
      body,
    }),
  ),
)
const removing = useWrite('motor', (load: Load) =>
  api.DELETE('/api/v1/claimed-loads/{id}/', {
    params: { path: { id: load.id }, query: { version: load.version } },
  }),
)
/** What cannot be read as a number is said at once, and nothing is sent. */
const unread = ref('')
async function add() {
  const numbers = ['cells', ...FIGURES.map((one) => one.name)] as const
  const read = Object.fromEntries(
    numbers.map((name) => {
      const text = typed[name as keyof typeof typed].trim()
      return [name, text ? readNumber(text) : null]
    }),
  ) as Record<string, number | null>
  const bad = numbers.find(
    (name) => typed[name as keyof typeof typed].trim() && read[name] === null,
  )
  const cells = read.cells
  unread.value = bad ? 'What is typed there is no number.' : ''
  if (bad) return
  if (cells === null || cells === undefined || !Number.isInteger(cells)) {
    unread.value = 'Write how many cells, as a whole number.'
    return
  }
  const done = await adding.send({
    source: props.source,
    stated_on: props.statedOn || null,
    cells,
    propeller: typed.propeller,
    thrust_gf: read.thrust_gf,
    current_a: read.current_a,
    power_w: read.power_w,
  })
  // The next row of a table is on the same propeller.
  if (done) Object.assign(typed, { ...blank(), propeller: typed.propeller })
}
async function take(load: Load) {
  const gone = await removing.send(load)
  if (!gone) return
  offerUndo(`${load.cells} cells, ${load.propeller}`, () =>
    adding.sendOrThrow({
      source: load.source,
      stated_on: load.stated_on,
      cells: load.cells,
      propeller: load.propeller,
      thrust_gf: saidOf(load, 'thrust_gf'),
      current_a: saidOf(load, 'current_a'),
      power_w: saidOf(load, 'power_w'),
    }),
  )
}
const problem = (field: string) => fieldMessage(adding.problem.value, field)
/** A refusal that belongs to no field, and one of taking off. */
const refused = computed(() => {
  const own = ['cells', 'propeller', 'stated_on', 'source', ...FIGURES.map((one) => one.name)]
  const error = adding.problem.value
  const beside = error && own.some((name) => fieldMessage(error, name))
  return removing.problem.value ?? (beside ? null : error)
})
</script>

<template>
  <section class="sheet" aria-labelledby="by-cells">
    <h2 id="by-cells">
      By propeller and cell count <span class="tag claimed">claims, not measurements</span>
    </h2>
    <table v-if="file.claimed_loads.length" class="grid">
      <thead>
        <tr>
          <th class="num">Cells</th>
          <th>Propeller</th>
          <th v-for="one in FIGURES" :key="one.name" class="num">{{ one.label }}</th>
          <th>Source</th>
          <th><span class="visually-hidden">Take off</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="load in file.claimed_loads" :key="load.id">
          <tr>
            <td class="num">{{ load.cells }}</td>
            <td>{{ load.propeller }}</td>
            <td v-for="one in FIGURES" :key="one.name" class="num">
              <Figure
                :value="saidOf(load, one.name)"
                :unit="one.unit"
                reason="the source states none"
              />
              <div v-if="foreseen.of(load.id, one.name)" class="soft small">
                foreseen
                <Figure
                  estimated
                  :value="foreseen.of(load.id, one.name)?.foreseen.value"
                  :u="foreseen.of(load.id, one.name)?.foreseen.u"
                />
                <span v-if="foreseen.of(load.id, one.name)?.differs" class="tag caution"
                  >differs</span
                >
              </div>
            </td>
            <td class="soft small">
              {{ load.source }}<template v-if="load.stated_on">, {{ load.stated_on }}</template>
            </td>
            <td>
              <el-button
                v-if="mayWrite"
                size="small"
                text
                :aria-label="`Take off: ${load.cells} cells, ${load.propeller}, ${load.source}`"
                @click="take(load)"
                >Take off</el-button
              >
            </td>
          </tr>
          <tr v-for="said in load.odd" :key="said" class="odd">
            <td></td>
            <td :colspan="FIGURES.length + 3"><span class="tag caution">odd</span> {{ said }}</td>
          </tr>
          <tr v-if="foreseen.restsOn(load.id) || foreseen.whyNot(load.id)" class="odd">
            <td></td>
            <td :colspan="FIGURES.length + 3" class="soft small">
              <template v-if="foreseen.restsOn(load.id)"
                >Foreseen at 3.7 to 4.2 V a cell: {{ foreseen.restsOn(load.id) }}.</template
              >
              <template v-else>Not foreseen: {{ foreseen.whyNot(load.id) }}.</template>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-else class="soft">
      Many pages have a table: on this propeller and so many cells so much thrust at so many
      amperes. Each row is held against your runs on the same.
    </p>
    <el-form v-if="mayWrite" class="row" @submit.prevent="add">
      <NumberField
        v-model="typed.cells"
        label="Cells"
        :within="[1, 16]"
        :problem="problem('cells')"
      />
      <TextField
        v-model="typed.propeller"
        label="Propeller, as it says"
        placeholder="5.1x4.2x3"
        :maxlength="80"
        :problem="problem('propeller')"
      />
      <NumberField
        v-for="one in FIGURES"
        :key="one.name"
        v-model="typed[one.name]"
        :label="one.label"
        :unit="one.unit"
        :problem="problem(one.name)"
      />
      <el-button native-type="submit" :loading="adding.busy.value">Note the row</el-button>
    </el-form>
    <p v-if="unread" class="field-problem" role="alert">{{ unread }}</p>
    <p v-if="refused" class="field-problem" role="alert">{{ sentenceOf(refused) }}</p>
    <p v-if="mayWrite" class="soft small">
      Noted for {{ source }}<template v-if="statedOn">, {{ statedOn }}</template
      >, as above.
    </p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: flex-end;
  margin-top: 10px;
}
.tag {
  margin-left: 6px;
}
.odd td {
  border-top: 0;
  padding-top: 0;
}
</style>
