<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { catchStopKeys } from '@/live/stopKeys'
import { useBench } from '@/live/useBench'
import { wordsQuery } from '@/api/queries'
import { tell } from '@/words/words'
import { sessionEnded, sessionIsOver, whoWorks, works } from '@/api/again'
import BenchAlarms from './BenchAlarms.vue'
import BenchStrip from './BenchStrip.vue'
import KeyHelp from './KeyHelp.vue'
import ReasonPopover from './ReasonPopover.vue'
import SessionEnded from './SessionEnded.vue'
import SpindleRail from './SpindleRail.vue'
import UpgradeNotice from './UpgradeNotice.vue'
import { neighbour } from './stations'
import { useSession } from './useSession'

const { query, user } = useSession()
const vocabulary = useQuery(computed(() => ({ ...wordsQuery(), enabled: user.value !== null })))
const told = ref(false)

// A session that is gone without a log-out has ended by itself.
watch(
  () => (query.isSuccess.value ? (query.data.value?.user ?? null) : undefined),
  (now) => {
    if (now) {
      const another = whoWorks.value && whoWorks.value.id !== now.id
      works(now)
      if (another) window.location.reload()
    } else if (now === null && whoWorks.value) void sessionEnded()
  },
  { immediate: true },
)
watch(
  vocabulary.data,
  (words) => {
    if (!words) return
    tell(words)
    told.value = true
  },
  { immediate: true },
)
const bench = useBench()
const route = useRoute()
const router = useRouter()
const dark = computed(() => route.path.startsWith('/bench'))

// Before the first navigation is through, the route is not yet the address that was asked for.
const ready = ref(false)
void router.isReady().then(() => (ready.value = true))

watch(
  [user, () => query.isSuccess.value && ready.value, () => route.fullPath],
  ([who, known, path]) => {
    if (who) {
      bench.connect()
      // The rule asks a second factor of their role, and they have none: first things first.
      const due = query.data.value?.second_factor_due
      if (due && ready.value && route.path !== '/people') void router.replace('/people')
    } else if (known && !sessionIsOver.value) {
      bench.disconnect()
      if (route.path !== '/login') void router.replace({ path: '/login', query: { next: path } })
    }
  },
  { immediate: true },
)

function onKey(event: KeyboardEvent) {
  const target = event.target as HTMLElement
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (target.closest('input, textarea, select, [contenteditable]')) return
  if (event.key === ']' || event.key === '[')
    void router.push(neighbour(route.path, event.key === ']' ? 1 : -1).path)
}

/** Closing or reloading a page in mid-run may take away the last one that could stop it. */
function onLeave(event: BeforeUnloadEvent) {
  if (bench.hot) event.preventDefault()
}

let release = () => {}
onMounted(() => {
  release = catchStopKeys(
    () => bench.canCut,
    () => void bench.stop(),
  )
})
useEventListener(window, 'keydown', onKey)
useEventListener(window, 'beforeunload', onLeave)
onUnmounted(() => {
  release()
  bench.disconnect()
})
</script>

<template>
  <RouterView v-if="route.path === '/login'" />
  <div v-else-if="user && told" class="frame" :class="{ dark }">
    <BenchStrip />
    <BenchAlarms />
    <SpindleRail />
    <main class="page" tabindex="-1">
      <UpgradeNotice />
      <RouterView v-slot="{ Component }">
        <component :is="Component" :key="route.path" />
      </RouterView>
    </main>
    <KeyHelp />
    <SessionEnded />
    <ReasonPopover />
  </div>
  <p v-else-if="query.isError.value || vocabulary.isError.value" class="lost" role="alert">
    The server cannot be reached.
    <el-button @click="(query.isError.value ? query : vocabulary).refetch()">Try again</el-button>
  </p>
  <p v-else class="lost">Loading…</p>
</template>

<style scoped>
/* The frame is as large as what is seen, keyboard on screen or not, and only the page scrolls: the
   strip with its stop control cannot leave. */
.frame {
  display: grid;
  grid-template: 46px auto minmax(0, 1fr) / 84px minmax(0, 1fr);
  grid-template-areas: 'strip strip' 'alarms alarms' 'rail page';
  position: fixed;
  inset: 0;
  height: 100dvh;
  overflow: hidden;
}
.page {
  grid-area: page;
  position: relative;
  overflow: auto;
  padding: 18px 22px 40px;
  outline: none;
}
.frame.dark .page {
  background: var(--dark);
  color: var(--dark-ink);
}
.lost {
  padding: 60px;
  text-align: center;
}
</style>
