<script setup lang="ts">
/** Flights with what was foreseen of each; a mistake is struck out with a word. */
import { ref } from 'vue'
import { api, dataOf, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import TextField from '@/forms/TextField.vue'
import { wordOf } from '@/words/words'
import { errorText, type Flight } from './flights'

defineProps<{ flights: readonly Flight[] }>()
const { mayWrite } = useSession()
const striking = ref<Flight | null>(null)
const reason = ref('')
const changing = useWrite('flight', async (row: { flight: Flight; struck_reason: string }) =>
  dataOf(
    await api.PATCH('/api/v1/flights/{id}/', {
      params: { path: { id: row.flight.id } },
      body: { struck_reason: row.struck_reason, version: row.flight.version },
    }),
  ),
)
async function strike(flight: Flight, words: string) {
  if (!(await changing.send({ flight, struck_reason: words }))) return
  striking.value = null
  reason.value = ''
}
</script>

<template>
  <div class="wide">
    <table class="grid">
      <thead>
        <tr>
          <th>Day, craft</th>
          <th>Motor, propeller</th>
          <th class="num">Mass</th>
          <th class="num">Flown</th>
          <th class="num">Foreseen</th>
          <th class="num">Off by</th>
          <th class="num">Drew</th>
          <th>What was noticed</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in flights" :key="one.id" :class="{ struck: one.struck_reason }">
          <td>
            {{ one.flown_on }}
            <span class="soft small block">{{ one.craft_name }}</span>
          </td>
          <td>
            {{ one.motor_name || '—' }}
            <span class="soft small block"
              >{{ one.propeller_name
              }}<template v-if="one.marks.length"> · {{ one.marks.join(', ') }}</template></span
            >
          </td>
          <td class="num">
            <Figure :value="one.mass_g" unit="g" reason="not weighed with this flight" />
          </td>
          <td class="num"><Figure :value="one.minutes" unit="min" /></td>
          <td class="num">
            <Figure
              :value="one.predicted_min.value"
              :u="one.predicted_min.u"
              unit="min"
              :reason="one.predicted_min.reason"
              :assumed="one.predicted_min.assumed"
            />
            <span class="soft small block">{{ one.rests_on }}</span>
          </td>
          <td class="num nowrap">{{ errorText(one.error_pct) || '—' }}</td>
          <td class="num">
            <Figure
              :value="one.power_w.value"
              :u="one.power_w.u"
              unit="W"
              :assumed="one.power_w.assumed"
            />
          </td>
          <td class="small">
            <template v-if="one.struck_reason">Struck out: {{ one.struck_reason }}</template>
            <template v-else>
              {{ one.impressions }}
              <span class="soft">
                {{ wordOf('wind', one.wind)
                }}<template v-if="one.hover_share_pct != null">
                  hovered {{ one.hover_share_pct }}&#8239;%</template
                ><template v-if="one.motor_temp_c != null">
                  motor {{ one.motor_temp_c }}&#8239;°C</template
                ></span
              >
            </template>
          </td>
          <td>
            <el-button
              v-if="mayWrite && !one.struck_reason"
              text
              size="small"
              :aria-label="`Strike out the flight of ${one.flown_on}`"
              @click="striking = one"
              >strike out …</el-button
            >
            <el-button v-else-if="mayWrite" text size="small" @click="strike(one, '')"
              >let it stand</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <form v-if="striking" class="row" @submit.prevent="strike(striking, reason)">
    <TextField
      v-model="reason"
      :label="`Why the flight of ${striking.flown_on} is struck out`"
      :maxlength="200"
      width="wide"
    />
    <el-button native-type="submit" :disabled="!reason.trim()" :loading="changing.busy.value"
      >Strike it out</el-button
    >
    <el-button text @click="striking = null">Leave it</el-button>
  </form>
  <p v-if="changing.problem.value" role="alert" class="fault">
    {{ sentenceOf(changing.problem.value) }}
  </p>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
.wide table {
  width: 100%;
}
td {
  vertical-align: top;
}
.block {
  display: block;
}
.nowrap {
  white-space: nowrap;
}
.struck td:not(:last-child) {
  color: var(--ink-soft);
  text-decoration: line-through;
}
.struck td.small {
  text-decoration: none;
}
.row {
  display: flex;
  gap: 10px;
  align-items: flex-end;
  max-width: 640px;
  margin-top: 8px;
}
.fault {
  color: var(--stop);
}
</style>
