<script setup lang="ts">
/** What another bench reads apart, figure by figure: the mean over all that both ran, with its
 * 95 % interval beside the band in which the two count as the same. */
import { computed } from 'vue'
import {
  drawnAt,
  MARGIN_PCT,
  nameOf,
  type Offset,
  offsetText,
  outcomeWords,
  scaleWords,
  spanOf,
  tellsWords,
} from './offsets'

const props = defineProps<{ offsets: readonly Offset[] }>()
const span = computed(() => spanOf(props.offsets))
const rows = computed(() =>
  props.offsets.map((one, index) => ({
    key: `${one.condition}/${one.name}`,
    one,
    drawn: drawnAt(one, span.value),
    first: props.offsets[index - 1]?.condition !== one.condition,
  })),
)
const band = computed(() => drawnAt({ offset_pct: 0, half_width_pct: MARGIN_PCT }, span.value))
</script>

<template>
  <p v-if="scaleWords(offsets)" class="said">{{ scaleWords(offsets) }}</p>
  <div class="offsets" role="list" aria-label="What they read apart from this bench">
    <div
      v-for="row in rows"
      :key="row.key"
      role="listitem"
      class="row"
      :class="[row.one.outcome, { first: row.first }]"
    >
      <span class="name"
        >{{ nameOf(row.one) }}
        <span v-if="row.first" class="soft small tells">{{ tellsWords(row.one.condition) }}</span>
      </span>
      <span class="room" aria-hidden="true">
        <span class="band" :style="{ left: `${band.low}%`, width: `${band.high - band.low}%` }" />
        <span class="zero" />
        <span
          class="interval"
          :style="{ left: `${row.drawn.low}%`, width: `${row.drawn.high - row.drawn.low}%` }"
        />
        <span class="dot" :style="{ left: `${row.drawn.at}%` }" />
      </span>
      <span class="value num">{{ offsetText(row.one) }}</span>
      <span class="words"
        >{{ outcomeWords(row.one) }}
        <span class="soft small"
          >{{ row.one.loads }} {{ row.one.loads === 1 ? 'load' : 'loads'
          }}<template v-if="row.one.motors > 1">, {{ row.one.motors }} motors</template></span
        ></span
      >
    </div>
  </div>
  <p class="soft small">
    Theirs against ours; dots are means over all that both ran, lines their 95&#8239;% intervals,
    the band is ±{{ MARGIN_PCT }}&#8239;%. Nobody sees the gain of one's own scale: in u stand both
    calibrations, and that two propellers of one name and two samples of one model are not the same
    (assumed where nobody measured it).
  </p>
</template>

<style scoped>
.said {
  margin: 2px 0 8px;
}
.row {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 26px;
}
.row.first:not(:first-child) {
  margin-top: 6px;
  padding-top: 6px;
  border-top: 1px solid var(--rule);
}
.name {
  flex: 0 0 300px;
  font-size: 13px;
}
.tells {
  display: block;
}
.room {
  position: relative;
  flex: 1 1 200px;
  height: 20px;
}
.band,
.zero,
.interval,
.dot {
  position: absolute;
}
.band {
  top: 0;
  bottom: 0;
  background: var(--within-soft, rgb(0 0 0 / 6%));
}
.zero {
  left: 50%;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--ink-soft);
}
.interval {
  top: 9px;
  height: 2px;
  background: var(--ink);
}
.dot {
  top: 5px;
  width: 9px;
  height: 9px;
  margin-left: -5px;
  border: 2px solid var(--ink);
  border-radius: 50%;
  background: var(--sheet);
}
.different .dot {
  background: var(--ink);
}
.value {
  flex: 0 0 112px;
  text-align: right;
}
.words {
  flex: 0 0 250px;
}
.words .small {
  display: block;
}
@media (max-width: 1000px) {
  .row {
    flex-wrap: wrap;
  }
  .name,
  .room {
    flex-basis: 45%;
  }
  .value {
    flex: 0 0 auto;
    text-align: left;
  }
}
</style>
