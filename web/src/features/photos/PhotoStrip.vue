<script setup lang="ts">
/** Photos of a sample, or of one observation of it: look, add by file or camera, caption, take off. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, dataOf, type Schemas, sendForm, sentenceOf } from '@/api/client'
import { samplePhotosQuery, vocabularyQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { photoFault } from './photoFile'

const props = defineProps<{ sample: number; mark: string; attribute?: string; compact?: boolean }>()
const {
  data: photos,
  isLoading,
  error,
  refetch,
} = useQuery(computed(() => ({ ...samplePhotosQuery(props.sample), enabled: props.sample > 0 })))
const { data: vocabulary } = useQuery(vocabularyQuery())
const { mayWrite } = useSession()
const client = useQueryClient()
const caption = ref('')
const problem = ref('')
const busy = ref(false)
const large = ref<Schemas['Photo'] | null>(null)
const takenOff = ref<Schemas['Photo'] | null>(null)

const shown = computed(() =>
  (photos.value ?? []).filter((p) => !props.attribute || p.attribute === props.attribute),
)
const labelOf = (key: string | undefined) =>
  vocabulary.value?.attributes.find((a) => a.key === key)?.label ?? ''
const describe = (photo: Schemas['Photo']) =>
  photo.caption || labelOf(photo.attribute) || `Photo of sample ${props.mark}`

async function add(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  problem.value = ''
  if (!file) return
  problem.value = photoFault(file)
  if (problem.value) return
  busy.value = true
  const form = new FormData()
  form.append('file', file)
  form.append('caption', caption.value)
  if (props.attribute) form.append('attribute', props.attribute)
  try {
    await sendForm(`/api/v1/samples/${props.sample}/photos/`, form)
    caption.value = ''
    input.value = ''
    await client.invalidateQueries({ queryKey: ['photos'] })
  } catch (failure) {
    problem.value = sentenceOf(failure)
  } finally {
    busy.value = false
  }
}

async function change(photo: Schemas['Photo'], body: Schemas['PatchedPhotoRequest']) {
  problem.value = ''
  try {
    const changed = dataOf(
      await api.PATCH('/api/v1/photos/{id}/', {
        params: { path: { id: photo.id } },
        body: { ...body, version: photo.version },
      }),
    )
    takenOff.value = body.taken_off ? changed : null
    if (body.taken_off) large.value = null
    await client.invalidateQueries({ queryKey: ['photos'] })
  } catch (failure) {
    problem.value = sentenceOf(failure)
  }
}
</script>

<template>
  <section class="photos" :aria-label="`Photos of sample ${mark}`">
    <ul v-if="shown.length">
      <li v-for="photo in shown" :key="photo.id">
        <button type="button" class="thumb" @click="large = large?.id === photo.id ? null : photo">
          <img :src="photo.thumbnail" :alt="describe(photo)" loading="lazy" />
        </button>
        <span class="soft small">{{ describe(photo) }}</span>
      </li>
    </ul>
    <PageState
      v-else-if="isLoading || error"
      :loading="isLoading"
      :error="error"
      :retry="refetch"
    />
    <p v-else-if="!compact" class="soft">No photo yet.</p>
    <figure v-if="large" class="large">
      <img :src="large.image" :alt="describe(large)" />
      <figcaption>
        {{ describe(large) }}
        <span class="soft small"
          >{{ large.width_px }} × {{ large.height_px }} px, by {{ large.uploaded_by_name }}</span
        >
        <el-button v-if="mayWrite" size="small" @click="change(large, { taken_off: true })"
          >Take it off</el-button
        >
        <el-button size="small" @click="large = null">Close</el-button>
      </figcaption>
    </figure>
    <p v-if="takenOff" role="status" class="small">
      Taken off.
      <el-button size="small" @click="change(takenOff, { taken_off: false })"
        >Put it back</el-button
      >
    </p>
    <div v-if="mayWrite" class="add">
      <label class="file" :class="{ busy }">
        {{ busy ? 'Sending…' : 'Add a photo' }}
        <input
          type="file"
          accept="image/jpeg,image/png,image/webp"
          capture="environment"
          :disabled="busy"
          @change="add"
        />
      </label>
      <input v-model="caption" class="caption" placeholder="Caption" aria-label="Caption" />
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin: 8px 0;
  padding: 0;
}
li {
  width: 128px;
}
.thumb {
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--paper);
  padding: 0;
  cursor: zoom-in;
  display: block;
  width: 100%;
}
.thumb img {
  display: block;
  width: 100%;
  height: 96px;
  object-fit: cover;
}
.large {
  margin: 8px 0;
}
.large img {
  max-width: 100%;
  max-height: 60vh;
}
.add {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 8px;
}
.file {
  position: relative;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  padding: 5px 12px;
  min-height: 32px;
  background: #fffefb;
  cursor: pointer;
  white-space: nowrap;
}
.file:focus-within {
  outline: 2px solid var(--copper);
  outline-offset: 2px;
}
.file input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
}
.caption {
  flex: 1;
  min-width: 80px;
  height: 32px;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  padding: 0 8px;
  background: #fffefb;
}
.problem {
  color: var(--stop);
  margin: 6px 0 0;
}
</style>
