<script setup lang="ts">
/** Photos of a sample, or of one observation of it: look, add by file or camera, caption, take off. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import type { UploadFile } from 'element-plus'
import { api, dataOf, type Schemas, sendForm, sentenceOf } from '@/api/client'
import { samplePhotosQuery, vocabularyQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { photoFault } from './photoFile'

const props = defineProps<{
  sample: number
  mark: string
  attribute?: string
  incident?: number
  compact?: boolean
}>()
const {
  data: photos,
  isLoading,
  error,
  refetch,
} = useQuery(computed(() => ({ ...samplePhotosQuery(props.sample), enabled: props.sample > 0 })))
const { data: vocabulary } = useQuery(vocabularyQuery())
const { mayWrite } = useSession()
const caption = ref('')
const large = ref<Schemas['Photo'] | null>(null)
const takenOff = ref<Schemas['Photo'] | null>(null)

const shown = computed(() =>
  (photos.value ?? []).filter(
    (p) =>
      (!props.attribute || p.attribute === props.attribute) &&
      (!props.incident || p.incident === props.incident),
  ),
)
const labelOf = (key: string | undefined) =>
  vocabulary.value?.attributes.find((a) => a.key === key)?.label ?? ''
const describe = (photo: Schemas['Photo']) =>
  photo.caption || labelOf(photo.attribute) || `Photo of sample ${props.mark}`

const sent_pct = ref(0)
const sending = useWrite('photo', (form: FormData) =>
  sendForm(
    `/api/v1/samples/${props.sample}/photos/`,
    form,
    (percent) => (sent_pct.value = percent),
  ),
)
const changing = useWrite(
  'photo',
  async ({ photo, body }: { photo: Schemas['Photo']; body: Schemas['PatchedPhotoRequest'] }) =>
    dataOf(
      await api.PATCH('/api/v1/photos/{id}/', {
        params: { path: { id: photo.id } },
        body: { ...body, version: photo.version },
      }),
    ),
)
const fault = ref('')
const problem = computed(() => {
  const refused = sending.problem.value ?? changing.problem.value
  return fault.value || (refused ? sentenceOf(refused) : '')
})

async function add(file: File | undefined) {
  if (!file) return
  sending.clear()
  fault.value = photoFault(file)
  if (fault.value) return
  sent_pct.value = 0
  const form = new FormData()
  form.append('file', file)
  form.append('caption', caption.value)
  if (props.incident) form.append('incident', String(props.incident))
  if (props.attribute) form.append('attribute', props.attribute)
  if (await sending.send(form)) caption.value = ''
}

async function change(photo: Schemas['Photo'], body: Schemas['PatchedPhotoRequest']) {
  const changed = await changing.send({ photo, body })
  if (!changed) return
  takenOff.value = body.taken_off ? changed : null
  if (body.taken_off) large.value = null
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
      <el-upload
        accept="image/jpeg,image/png,image/webp"
        :auto-upload="false"
        :show-file-list="false"
        :disabled="sending.busy.value"
        :on-change="(chosen: UploadFile) => add(chosen.raw)"
      >
        <span class="el-button">{{
          sending.busy.value ? `Sending, ${sent_pct} %` : 'Add a photo'
        }}</span>
      </el-upload>
      <el-input v-model="caption" class="caption" placeholder="Caption" aria-label="Caption" />
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
.caption {
  flex: 1;
  min-width: 80px;
}
.problem {
  color: var(--stop);
  margin: 6px 0 0;
}
</style>
