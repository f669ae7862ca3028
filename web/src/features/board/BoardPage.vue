<script setup lang="ts">
/** What do I do next? */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { boardQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { dateTime } from '@/figures/format'
import { nextPath } from './nextPath'
import SetAsideRuns from './SetAsideRuns.vue'
import { unitOf } from '@/words/words'

const inHand = useInHand()
const search = ref('')
const sought = refDebounced(search, 250)
const { data, isPending, error, refetch } = useQuery(
  computed(() => boardQuery(sought.value, inHand.value)),
)
const { mayWrite } = useSession()
const router = useRouter()
const first = computed(() => data.value?.motors[0] ?? null)

function take(id: number, path: string) {
  inHand.value = id
  void router.push(path)
}
</script>

<template>
  <h1>Board</h1>
  <SetAsideRuns />
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="data && !data.motors.length && !sought" class="sheet empty">
    <h2>The bench is empty</h2>
    <p>Open the first parcel: give the motor a name, its size code and the kV on its label.</p>
    <el-button v-if="mayWrite" type="primary" @click="router.push('/intake')"
      >Take in a motor</el-button
    >
  </section>
  <template v-else-if="data">
    <section v-if="first && mayWrite" class="sheet next">
      <div>
        <span class="soft">Next</span>
        <h2>{{ first.next_act }}: {{ first.full_name }}</h2>
        <p v-if="first.gaps.length" class="soft">{{ first.gaps.join(' · ') }}</p>
      </div>
      <el-button type="primary" @click="take(first.id, nextPath(first.next_station, first.id))">
        Go to {{ first.next_station }}
      </el-button>
    </section>

    <section class="sheet">
      <div class="bar">
        <h2>Motors, the most urgent first</h2>
        <el-input
          v-if="data.motor_count > 20 || sought"
          v-model="search"
          class="find"
          placeholder="Find by maker, name, size or kV"
          aria-label="Find a motor"
        />
      </div>
      <p v-if="!data.motors.length" class="soft">No motor fits.</p>
      <p v-else-if="data.motor_count > data.motors.length" class="soft small">
        {{ data.motors.length }} of {{ data.motor_count }}; find the others by name.
      </p>
      <table class="grid">
        <thead>
          <tr>
            <th>Motor</th>
            <th class="num">Samples</th>
            <th class="num">Claims</th>
            <th class="num">Observations</th>
            <th class="num">Runs</th>
            <th>Gaps</th>
            <th>Next</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="motor in data.motors" :key="motor.id">
            <td>
              <MotorMark :motor="motor.id" />
              <RouterLink :to="`/motors/${motor.id}`" @click="inHand = motor.id">{{
                motor.full_name
              }}</RouterLink>
            </td>
            <td class="num">{{ motor.samples }}</td>
            <td class="num">{{ motor.claims }}</td>
            <td class="num">{{ motor.observations }}</td>
            <td class="num">{{ motor.runs }}</td>
            <td class="small">
              <span v-for="gap in motor.gaps" :key="gap" class="tag caution">{{ gap }}</span>
              <span v-if="!motor.gaps.length" class="soft">none</span>
            </td>
            <td>
              <a
                :href="nextPath(motor.next_station, motor.id)"
                @click.prevent="take(motor.id, nextPath(motor.next_station, motor.id))"
                >{{ motor.next_act }}</a
              >
            </td>
          </tr>
        </tbody>
      </table>
    </section>

    <section class="sheet">
      <h2>
        Runs that wait for a verdict <span class="soft">({{ data.unreviewed_count }})</span>
      </h2>
      <p v-if="!data.unreviewed.length" class="soft">None: every run was accepted or rejected.</p>
      <table v-else class="grid">
        <tbody>
          <tr v-for="run in data.unreviewed" :key="run.id">
            <td>
              <RouterLink :to="`/runs/${run.id}`">Run {{ run.id }}</RouterLink>
            </td>
            <td>{{ run.motor_name }} {{ run.sample_mark }}</td>
            <td>{{ run.propeller_name }}</td>
            <td>
              <span class="tag" :class="run.outcome === 'completed' ? '' : 'caution'">{{
                run.outcome
              }}</span>
            </td>
            <td class="num">
              <Figure
                v-if="run.headline[0]"
                :value="run.headline[0].value"
                :u="run.headline[0].u"
                :assumed="run.headline[0].assumed"
                :reason="run.headline[0].reason"
                :unit="unitOf(run.headline[0].name)"
              />
            </td>
            <td class="soft small">{{ dateTime(run.started_at) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </template>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
h2 {
  margin-bottom: 6px;
}
.bar {
  display: flex;
  justify-content: space-between;
  gap: 14px;
}
.find {
  max-width: 300px;
}
.next {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 20px;
  border-left: 5px solid var(--copper);
}
.next p {
  margin: 0;
}
.tag {
  margin: 1px 4px 1px 0;
  white-space: normal;
}
.empty {
  max-width: 560px;
}
</style>
