<script setup lang="ts">
/** What do I do next? */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { waitingQuery } from '@/api/afterwardsQueries'
import { boardQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import OwedCells from '@/features/runs/OwedCells.vue'
import UpkeepTag from '@/features/upkeep/UpkeepTag.vue'
import BenchNow from './BenchNow.vue'
import FirstSteps from './FirstSteps.vue'
import MotorTable from './MotorTable.vue'
import NextRun from './NextRun.vue'
import { nextPath } from './nextPath'
import SetAsideRuns from './SetAsideRuns.vue'
import WaitingPoints from './WaitingPoints.vue'
import WaitingRuns from './WaitingRuns.vue'

const inHand = useInHand()
const search = ref('')
const sought = refDebounced(search, 250)
const { data, isPending, error, refetch } = useQuery(
  computed(() => boardQuery(sought.value, inHand.value)),
)
const { mayWrite, mayAdmin } = useSession()
const router = useRouter()
const { data: waiting } = useQuery(waitingQuery())
const first = computed(() => data.value?.motors[0] ?? null)

function take(id: number, path: string) {
  inHand.value = id
  void router.push(path)
}
</script>

<template>
  <header class="head">
    <h1>Board</h1>
    <span>
      <RouterLink to="/afterwards">Afterwards: flights, readers, what waits</RouterLink>
      <RouterLink v-if="waiting?.due_count" class="tag" to="/afterwards?look=waiting"
        >{{ waiting.due_count }} due</RouterLink
      >
      <RouterLink v-if="waiting?.unanswered_count" class="tag" to="/afterwards?look=letters"
        >{{ waiting.unanswered_count }} without an answer</RouterLink
      >
      <UpkeepTag v-if="mayAdmin" />
    </span>
  </header>
  <SetAsideRuns />
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <FirstSteps v-if="data && !data.bench_day && mayWrite && !sought" :motors="data.motor_count" />
  <p v-if="data && !data.motor_count && !sought && !mayWrite" class="soft">
    No motor is on the bench yet.
  </p>
  <template v-else-if="data && (data.motor_count || sought)">
    <div class="nexts">
      <section v-if="first && mayWrite && data.bench_day" class="sheet next">
        <div>
          <span class="soft">Next</span>
          <h2>{{ first.next_act }}: {{ first.full_name }}</h2>
          <p v-if="first.gaps.length" class="soft">{{ first.gaps.join(' · ') }}</p>
        </div>
        <el-button type="primary" @click="take(first.id, nextPath(first.next_station, first.id))">
          Go to {{ first.next_station }}
        </el-button>
      </section>
      <NextRun :may="mayWrite" />
    </div>

    <div class="columns">
      <section class="sheet">
        <div class="bar">
          <h2>Motors, the most urgent first</h2>
          <el-input
            v-if="data.motor_count > 20 || sought"
            v-model="search"
            class="find"
            clearable
            placeholder="Find by maker, name, size or kV"
            aria-label="Find a motor"
          />
        </div>
        <p v-if="data.motor_count > data.motors.length" class="soft small">
          {{ data.motors.length }} of {{ data.motor_count }}; find the others by name.
        </p>
        <MotorTable :motors="data.motors" @hold="inHand = $event" @take="take" />
      </section>
      <div class="column">
        <BenchNow :day="data.bench_day" />
        <OwedCells v-if="data.later.length" :cells="data.later" :count="data.later_count" motors />
        <WaitingRuns :runs="data.unreviewed" :count="data.unreviewed_count" />
        <WaitingPoints />
      </div>
    </div>
  </template>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  align-items: baseline;
}
.head .tag {
  margin-left: 8px;
}
.sheet {
  margin-top: 12px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 8fr) minmax(0, 4fr);
  gap: 12px;
  align-items: start;
}
h2 {
  margin-bottom: 4px;
}
.bar {
  display: flex;
  justify-content: space-between;
  gap: 14px;
}
.find {
  max-width: 300px;
}
/* Two things may be next: what a motor lacks, and what the open campaign would run. */
.nexts {
  display: flex;
  gap: 12px;
}
.nexts > * {
  flex: 1;
}
.next {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 20px;
  border-left: 5px solid var(--copper);
  padding: 8px 16px;
}
.next p {
  margin: 0;
}
@media (max-width: 1150px) {
  .nexts {
    flex-direction: column;
    gap: 0;
  }
  .columns {
    grid-template-columns: minmax(0, 1fr);
    gap: 0;
  }
}
</style>
