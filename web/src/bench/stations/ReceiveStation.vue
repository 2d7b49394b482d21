<script setup lang="ts">
import Select from 'primevue/select';
import { computed, ref } from 'vue';
import { surveyCounts } from '@noble-prism/core/read/counts';
import { TESSELLATION_PRESETS } from '@noble-prism/core/steps/tessellate';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import { formatBytes, formatCount } from '@noble-prism/core/units';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import type { Source } from '../../api/client.ts';
import LengthField from '../LengthField.vue';
import ScopeField from '../ScopeField.vue';
import StepActions from '../StepActions.vue';
import { useStepForm } from '../stepForm.ts';

const store = useJob();
const selection = useSelection();
const chooser = ref<HTMLInputElement>();
const form = useStepForm<TessellateParameters>('tessellate', { followSelection: false, single: true });

interface Sheet {
  source: Source;
  info?: (typeof store.base.sources)[number];
  counts?: ReturnType<typeof surveyCounts>;
}
const sheets = computed<Sheet[]>(() =>
  store.sources.map((source) => {
    const info = store.base.sources.find((entry) => entry.id === source.id);
    if (!info) return { source };
    const scene = {
      ...store.base,
      nodes: store.base.nodes.filter((node) => node.source === source.id),
      layers: store.base.layers.filter((layer) => layer.source === source.id),
    };
    return { source, info, counts: surveyCounts(scene) };
  }),
);

const presets = computed(() => [
  ...TESSELLATION_PRESETS.map(({ preset, title, purpose }) => ({ preset, title, purpose })),
  { preset: 'own', title: 'Own values', purpose: '' },
]);
function choosePreset(name: string): void {
  const found = TESSELLATION_PRESETS.find((preset) => preset.preset === name);
  Object.assign(
    form.parameters,
    found ? { preset: found.preset, chord: found.chord, angle: found.angle } : { preset: 'own' },
  );
}
function own(change: Partial<TessellateParameters>): void {
  Object.assign(form.parameters, change, { preset: 'own' });
}

function schemaName(schema: string): string {
  const known: [RegExp, string][] = [
    [/AP242|MANAGED_MODEL_BASED/i, 'AP242'],
    [/AUTOMOTIVE_DESIGN/i, 'AP214'],
    [/CONFIG_CONTROL_DESIGN|CONFIGURATION_CONTROL/i, 'AP203'],
  ];
  return known.find(([pattern]) => pattern.test(schema))?.[1] ?? schema.split(' ')[0];
}

function choose(event: Event): void {
  const input = event.target as HTMLInputElement;
  void store.receive(input.files ?? []);
  input.value = '';
}
function pickLayer(name: string, source: string): void {
  selection.pick(
    store.scene.nodes.filter((node) => node.layer === name && node.source === source).map((node) => node.key),
  );
}
function pickMaterial(id: string, source: string): void {
  const base = new Set(
    store.base.nodes.filter((node) => node.source === source && node.materials.includes(id)).map((node) => node.key),
  );
  selection.pick(base);
}
</script>

<template>
  <div class="section">
    <p class="caps">Sources</p>
    <p v-if="!sheets.length" class="quiet">None yet. Drop STEP files anywhere, or choose them.</p>
    <article v-for="{ source, info, counts } in sheets" :key="source.id">
      <header>
        <strong :title="source.name">{{ source.name }}</strong>
        <button
          class="plain"
          :aria-label="`Take ${source.name} out of the job`"
          title="Take out of the job (can be undone)"
          @click="store.removeSource(source.id)"
        >
          ×
        </button>
      </header>
      <p v-if="source.state === 'failed'" class="bad" role="alert">
        {{ source.error?.message }}<template v-if="source.error?.where"> ({{ source.error.where }})</template>
      </p>
      <p v-else-if="!info" class="quiet">Reading {{ formatBytes(source.bytes) }} …</p>
      <template v-else-if="counts">
        <dl>
          <dt>Format</dt>
          <dd :title="info.schema">{{ info.format }} {{ schemaName(info.schema) }}, {{ formatBytes(info.bytes) }}</dd>
          <dt>From</dt>
          <dd class="clip" :title="info.producer">{{ info.producer || 'not stated' }}</dd>
          <dt>Unit</dt>
          <dd>
            <template v-if="info.units.length > 1">{{ info.units.join(', ') }}, mixed</template
            ><template v-else>{{ info.unit.name }}</template>
            <span v-if="!info.unit.declared" class="warn"> assumed, none declared</span>
          </dd>
          <dt>Up</dt>
          <dd>
            {{ info.upAxis.axis }}
            <span class="quiet">{{
              info.upAxis.by === 'convention' ? 'by convention, not in the file' : 'as declared'
            }}</span>
          </dd>
          <dt>Tree</dt>
          <dd>
            {{ formatCount(counts.parts) }} parts in {{ formatCount(counts.assemblies) }} assemblies,
            {{ formatCount(counts.pieces) }} distinct solids
          </dd>
        </dl>
        <details>
          <summary>
            {{ counts.layers.length }} {{ counts.layers.length === 1 ? 'layer' : 'layers' }},
            {{ counts.materials.length }} {{ counts.materials.length === 1 ? 'colour' : 'colours' }}
          </summary>
          <ul class="tally">
            <li v-for="layer in counts.layers" :key="layer.name">
              <button
                class="plain"
                :title="`Select the parts on ${layer.name}`"
                @click="pickLayer(layer.name, source.id)"
              >
                {{ layer.name }}</button><span>{{ formatCount(layer.parts) }}</span>
            </li>
            <li v-for="material in counts.materials" :key="material.id">
              <button
                class="plain"
                title="Select the parts of this colour"
                @click="pickMaterial(material.id, source.id)"
              >
                <i :style="{ background: material.id.slice(0, 7) }" />{{ material.name }}</button
              ><span>{{ formatCount(material.parts) }}</span>
            </li>
          </ul>
        </details>
        <details v-if="info.warnings.length" open>
          <summary class="warn">
            {{ info.warnings.length }} {{ info.warnings.length === 1 ? 'warning' : 'warnings' }}
          </summary>
          <ul class="warnings">
            <li v-for="(warning, i) in info.warnings.slice(0, 20)" :key="i">
              {{ warning.message }} <span v-if="warning.where" class="quiet mono">{{ warning.where }}</span>
            </li>
            <li v-if="info.warnings.length > 20" class="quiet">and {{ info.warnings.length - 20 }} more</li>
          </ul>
        </details>
      </template>
    </article>
    <p v-for="entry in store.uploads" :key="entry.number" class="upload">
      {{ entry.name }} <span class="quiet">{{ formatBytes(entry.sent) }} of {{ formatBytes(entry.total) }}</span>
      <button class="plain" @click="entry.cancel()">Cancel</button>
    </p>
    <input
      ref="chooser"
      type="file"
      multiple
      accept=".stp,.step,.p21"
      class="visually-hidden"
      aria-label="Choose STEP files"
      tabindex="-1"
      @change="choose"
    />
    <button class="act" :class="{ first: !sheets.length }" @click="chooser?.click()">Choose files…</button>
  </div>

  <div class="section">
    <p class="caps">Tessellation</p>
    <div class="row">
      <label id="preset-label" for="preset">Purpose</label>
      <Select
        label-id="preset"
        aria-labelledby="preset-label"
        :model-value="form.parameters.preset"
        :options="presets"
        option-value="preset"
        option-label="title"
        @update:model-value="choosePreset"
      >
        <template #option="{ option }"
          ><span
            >{{ option.title }} <span class="quiet">{{ option.purpose }}</span></span
          ></template
        >
      </Select>
    </div>
    <div class="row">
      <label for="chord" title="Largest distance between a triangle and the exact surface">Chord dev.</label>
      <LengthField
        id="chord"
        unit="mm"
        :min="1e-6"
        :max="1"
        :model-value="form.parameters.chord"
        @update:model-value="own({ chord: $event })"
      />
    </div>
    <div class="row">
      <label for="angle" title="Largest turn between neighbouring triangles">Angle</label>
      <LengthField
        id="angle"
        unit="°"
        :min="0.017"
        :max="1.572"
        :model-value="form.parameters.angle"
        @update:model-value="own({ angle: $event })"
      />
    </div>
    <div class="row">
      <label id="tessellate-scope-label" for="tessellate-scope">Concerns</label>
      <ScopeField id="tessellate-scope" :model-value="form.selector.value" @update:model-value="form.choose" />
    </div>
    <StepActions
      :editing="form.editing.value"
      :report="form.report.value"
      :changed="form.changed.value"
      :error="form.error.value"
      add="Tessellate"
      :closable="false"
      @save="form.save"
    />
  </div>
</template>

<style scoped>
article {
  padding: 6px 0 8px;
  border-bottom: 1px solid var(--rule-soft);
  margin-bottom: 8px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 8px;
}
strong {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
dl {
  display: grid;
  grid-template-columns: 56px 1fr;
  gap: 2px 8px;
}
dt {
  color: var(--ink-2);
}
dd {
  min-width: 0;
}
.clip {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
details {
  margin-top: 4px;
}
summary {
  cursor: pointer;
  color: var(--ink-2);
}
summary.warn {
  color: var(--ochre);
}
.tally li {
  display: flex;
  justify-content: space-between;
  padding-left: 10px;
}
.tally i {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 6px;
  border: 1px solid var(--rule);
}
.warnings {
  font-size: 12px;
  padding-left: 10px;
  display: grid;
  gap: 4px;
  margin-top: 4px;
  overflow-wrap: anywhere;
}
.mono {
  font-family: var(--mono);
  font-size: 11px;
}
.upload {
  margin-bottom: 8px;
}
</style>
