<script setup lang="ts">
/** Is the house in order? Parts, room, backups, runs on their way, clocks; what to do first. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { upkeepQuery } from '@/api/upkeepQueries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { count, dateTime } from '@/figures/format'
import BackupSheet from './BackupSheet.vue'
import { clockFault, partState, size, sizeName } from './upkeep'

const { data, isPending, error, refetch } = useQuery(upkeepQuery())
const session = useSession()
const clock = computed(() => (data.value ? clockFault(data.value.browser_ahead_s) : ''))
const well = computed(() => data.value && !data.value.findings.length && !clock.value)
const used = computed(() => {
  const disk = data.value?.disk
  return disk ? (100 * (disk.total_bytes - disk.free_bytes)) / disk.total_bytes : 0
})
const sizes = computed(() => data.value?.sizes.filter((one) => one.bytes > 0) ?? [])
</script>

<template>
  <h1>Upkeep</h1>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="data">
    <section class="sheet" aria-label="What is amiss">
      <p v-if="well" class="well">Everything is in order.</p>
      <ul v-else class="amiss">
        <li v-for="one in data.findings" :key="one.sentence" :class="one.level">
          <span class="level">{{ one.level === 'act' ? 'to do' : 'note' }}</span>
          <span
            >{{ one.sentence }}
            <RouterLink v-if="one.about === 'bench'" to="/bench">Bench</RouterLink></span
          >
        </li>
        <li v-if="clock" class="note">
          <span class="level">note</span><span>{{ clock }}</span>
        </li>
      </ul>
      <p class="small soft">
        <template v-if="data.seen_at">Looked at {{ dateTime(data.seen_at) }}. </template>
        <template v-if="data.folder"
          >Everything lies in <code>{{ data.folder }}</code>.</template
        >
      </p>
    </section>
    <div class="pair">
      <BackupSheet v-if="data.backups" :backups="data.backups" />
      <section v-if="data.disk" class="sheet" aria-labelledby="room">
        <h2 id="room">Room</h2>
        <p>
          <strong class="figure">{{ size(data.disk.free_bytes) }}</strong> of
          <span class="figure">{{ size(data.disk.total_bytes) }}</span> are free. Every page says so
          below <span class="figure">{{ size(data.disk.least_bytes) }}</span>.
        </p>
        <div
          class="bar"
          role="img"
          :aria-label="`${count(used)} % of the disk is used`"
          :class="{ full: data.disk.free_bytes < data.disk.least_bytes }"
        >
          <span :style="{ width: `${used}%` }" />
        </div>
        <table class="grid">
          <tbody>
            <tr v-for="one in sizes" :key="one.what">
              <td>{{ sizeName(one.what) }}</td>
              <td class="num">{{ size(one.bytes) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
    <div class="pair">
      <section v-if="data.parts.length" class="sheet" aria-labelledby="parts">
        <h2 id="parts">Parts</h2>
        <table class="grid">
          <thead>
            <tr>
              <th>Process</th>
              <th>Now</th>
              <th class="num">Started again</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="part in data.parts" :key="part.name">
              <td>{{ part.name }}</td>
              <td :class="{ fault: !part.answers }">{{ partState(part) }}</td>
              <td class="num">{{ part.restarts ? `${part.restarts} times` : 'never' }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section class="sheet" aria-labelledby="rest">
        <h2 id="rest">Runs, clocks, versions</h2>
        <dl class="facts">
          <dt>The bench</dt>
          <dd>
            <template v-if="data.bench"
              >{{ data.bench.state }}{{ data.bench.simulated ? ', simulated stand' : '' }}</template
            ><template v-else>does not answer</template>
          </dd>
          <dt>Runs on their way to the record</dt>
          <dd>{{ data.bench ? data.bench.waiting_runs : 'not known' }}</dd>
          <dt>Runs set aside</dt>
          <dd>{{ data.bench ? data.bench.aside : 'not known' }}</dd>
          <dt>The server's time</dt>
          <dd>{{ dateTime(data.clock.server_at) }}</dd>
          <dt>Time zone of the bench</dt>
          <dd>{{ session.query.data.value?.time_zone }}</dd>
          <dt>This computer</dt>
          <dd>{{ clock ? 'differs' : 'agrees to 5 s' }}</dd>
          <dt>Database</dt>
          <dd>{{ data.versions.database }}</dd>
          <dt>Core</dt>
          <dd>{{ data.versions.core }}</dd>
        </dl>
      </section>
    </div>
  </template>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 420px), 1fr));
  gap: 14px;
  margin-top: 14px;
}
h1 {
  margin-bottom: 12px;
}
.well {
  font-size: 16px;
  margin: 0 0 6px;
}
.amiss {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.amiss li {
  display: grid;
  grid-template-columns: 56px 1fr;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
.level {
  color: var(--ink-soft);
}
.act .level,
.fault {
  color: var(--stop);
  font-weight: 600;
}
.bar {
  height: 10px;
  border: 1px solid var(--line);
  margin: 0 0 10px;
}
.bar span {
  display: block;
  height: 100%;
  background: var(--ink-soft);
}
.bar.full span {
  background: var(--stop);
}
.sheet h2 {
  margin-bottom: 6px;
}
.facts {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 18px;
  margin: 0;
}
.facts dd {
  margin: 0;
}
p code {
  overflow-wrap: anywhere;
}
</style>
