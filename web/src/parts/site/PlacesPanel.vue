<script setup lang="ts">
import { computed, ref, shallowRef, watch } from "vue";
import client, { ask, type FoundColour, type Place, sentence } from "@/api/client";
import RoleChoice from "@/parts/site/RoleChoice.vue";
import { count } from "@/logic/words";
import { useSite } from "@/stores/site";
import { moveColours } from "@/logic/acts";
import { useStudy } from "@/stores/study";

/** Every place of one colour, in the files and on the pages, and the way to move all or some to another colour of the palette. */
const props = defineProps<{ colour: FoundColour; canMove: boolean }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const study = useStudy();
const places = shallowRef<Place[] | null>(null);
const marked = ref(new Set<string>());
const trouble = ref("");
const role = computed(() => (props.colour.role ? study.roleById.get(props.colour.role) : undefined));

watch(
  () => [props.colour, study.revision?.base] as const,
  async ([colour]) => {
    marked.value = new Set();
    try {
      const query = { colour: colour.colour };
      const all = await ask(client.GET("/api/sites/{slug}/places", { params: { path: { slug: site.slug }, query } }));
      const keys = new Set(colour.keys);
      places.value = all.filter((place) => !place.key || keys.has(place.key));
    } catch (refusal) {
      trouble.value = sentence(refusal);
    }
  },
  { immediate: true },
);

function mark(key: string): void {
  const next = new Set(marked.value);
  if (!next.delete(key)) next.add(key);
  marked.value = next;
}

async function move(to: string | null, newLabel: string): Promise<void> {
  const keys = marked.value.size ? [...marked.value] : props.colour.keys;
  if (await study.act(moveColours({ keys }, to, newLabel))) emit("close");
}
</script>

<template>
  <aside class="PlacesPanel" aria-labelledby="places">
    <header>
      <i :style="{ background: colour.colour }" aria-hidden="true" />
      <div>
        <h2 id="places">{{ colour.colour.toUpperCase() }}</h2>
        <p class="soft">{{ role ? role.label : "Not in the palette" }}. {{ role?.reason }}</p>
      </div>
      <button type="button" class="act" @click="emit('close')">Close</button>
    </header>
    <role-choice
      v-if="canMove"
      :label="marked.size ? `Move ${count(marked.size, 'place')} to` : 'Move all of these to'"
      :without="colour.role"
      @choose="move"
    />
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="!places" class="soft">Looking it up…</p>
    <ul v-else>
      <li v-for="(place, number) in places" :key="`${place.key} ${number}`">
        <label>
          <input
            v-if="canMove && place.key"
            type="checkbox"
            :checked="marked.has(place.key)"
            :aria-label="`${place.file}, line ${place.line}`"
            @change="mark(place.key)"
          />
          <span>
            <b>{{ place.file }}</b>, line {{ place.line }}
          </span>
        </label>
        <code>{{ place.text }}</code>
        <span v-if="place.texts" class="soft">
          {{ count(place.texts, "text") }} on {{ count(place.pages.length, "page") }}: “{{
            place.samples.join("”, “")
          }}”
        </span>
        <span v-else class="soft">no text here</span>
      </li>
    </ul>
  </aside>
</template>

<style scoped>
.PlacesPanel {
  position: sticky;
  top: 0;
  display: grid;
  gap: 10px;
  padding: 12px 14px;
  border: 1px solid var(--rule);
  background: var(--panel);
}
header {
  display: flex;
  gap: 10px;
  align-items: flex-start;
}
header div {
  flex: 1;
}
header i {
  width: 44px;
  height: 44px;
  box-shadow: inset 0 0 0 1px #0003;
}
ul {
  max-height: 52vh;
  overflow-y: auto;
  margin: 0;
  padding: 0;
  list-style: none;
  scrollbar-width: thin;
}
li {
  display: grid;
  gap: 2px;
  padding: 7px 0;
  border-top: 1px solid var(--rule);
  font-size: 13px;
}
label {
  display: flex;
  gap: 6px;
  overflow-wrap: anywhere;
}
code {
  overflow-wrap: anywhere;
  font-size: 12px;
}
</style>
