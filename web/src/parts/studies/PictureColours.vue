<script setup lang="ts">
import { useTemplateRef, onMounted, ref, shallowRef } from "vue";
import client, { ask, csrfToken, OFFLINE, type Schemas, sentence, settled } from "@/api/client";

/** A picture's main colours in proportion, and a lens to take any of its pixels. */
const emit = defineEmits<{ take: [hex: string]; seeds: [colours: string[]] }>();
const props = defineProps<{ slug: string; isForOne?: boolean }>();
const pictures = shallowRef<Schemas["SitePictureOut"][]>([]);
const found = shallowRef<Schemas["PictureOut"] | null>(null);
const trouble = ref("");
const name = ref("");
const under = ref("");
const canvas = useTemplateRef<HTMLCanvasElement>("canvas");
const lens = useTemplateRef<HTMLCanvasElement>("lens");
const spot = ref({ x: 0, y: 0 });
const LENS = 9; // pixels to a side that the lens shows

onMounted(async () => {
  try {
    pictures.value = await ask(client.GET("/api/sites/{slug}/pictures", { params: { path: { slug: props.slug } } }));
  } catch {
    pictures.value = [];
  }
});

async function guard(work: () => Promise<void>): Promise<void> {
  trouble.value = "";
  try {
    await work();
  } catch (refusal) {
    found.value = null;
    trouble.value = sentence(refusal);
  }
}

const choose = (one: Schemas["SitePictureOut"]) =>
  guard(async () => {
    const query = { path: one.path };
    found.value = await ask(
      client.GET("/api/sites/{slug}/pictures/colours", { params: { path: { slug: props.slug }, query } }),
    );
    await show(one.address, one.path);
  });

const read = (file: File) =>
  guard(async () => {
    const form = new FormData();
    form.append("picture", file);
    const answer = await fetch("/api/pictures/colours", {
      method: "POST",
      body: form,
      headers: { "X-CSRFToken": csrfToken() },
    }).catch(() => {
      throw OFFLINE;
    });
    found.value = await settled<Schemas["PictureOut"]>(answer, await answer.json().catch(() => null));
    await show(URL.createObjectURL(file), file.name);
  });

async function show(address: string, called: string): Promise<void> {
  name.value = called;
  const picture = new Image();
  picture.src = address;
  await picture.decode().catch(() => undefined);
  const side = Math.min(1, 300 / Math.max(picture.naturalWidth, 1), 180 / Math.max(picture.naturalHeight, 1));
  const board = canvas.value;
  if (!board || !picture.naturalWidth) return;
  board.width = Math.max(1, Math.round(picture.naturalWidth * side));
  board.height = Math.max(1, Math.round(picture.naturalHeight * side));
  board.getContext("2d", { willReadFrequently: true })!.drawImage(picture, 0, 0, board.width, board.height);
  spot.value = { x: board.width >> 1, y: board.height >> 1 };
  magnify();
}

function magnify(): void {
  const board = canvas.value?.getContext("2d");
  const glass = lens.value?.getContext("2d");
  if (!board || !glass) return;
  const half = LENS >> 1;
  const { x, y } = spot.value;
  glass.imageSmoothingEnabled = false;
  glass.clearRect(0, 0, 90, 90);
  glass.drawImage(board.canvas, x - half, y - half, LENS, LENS, 0, 0, 90, 90);
  glass.strokeStyle = "#000";
  glass.strokeRect(39.5, 39.5, 11, 11);
  const [r, g, b] = board.getImageData(x, y, 1, 1).data;
  under.value = `#${[r, g, b].map((level) => (level ?? 0).toString(16).padStart(2, "0")).join("")}`;
}

function move(x: number, y: number): void {
  const board = canvas.value!;
  spot.value = {
    x: Math.max(0, Math.min(board.width - 1, Math.round(x))),
    y: Math.max(0, Math.min(board.height - 1, Math.round(y))),
  };
  magnify();
}

function follow(event: PointerEvent): void {
  const area = canvas.value!.getBoundingClientRect();
  move(event.clientX - area.left, event.clientY - area.top);
}

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
function press(event: KeyboardEvent): void {
  if (event.key === "Enter") emit("take", under.value);
  const step = STEPS[event.key];
  if (!step) return;
  event.preventDefault();
  const by = event.shiftKey ? 10 : 1;
  move(spot.value.x + step[0] * by, spot.value.y + step[1] * by);
}

function drop(event: DragEvent): void {
  const file = event.dataTransfer?.files[0];
  if (file) void read(file);
}
function pick(event: Event): void {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (file) void read(file);
}
</script>

<template>
  <section class="PictureColours" aria-label="Colours from a picture" @dragover.prevent @drop.prevent="drop">
    <p>
      <label class="file">
        Drop a picture here, or <span class="act">choose one</span>
        <input type="file" accept="image/*" class="unseen" aria-label="Picture to take colours from" @change="pick" />
      </label>
    </p>
    <ul v-if="pictures.length" class="own" aria-label="Pictures of the site">
      <li v-for="one in pictures.slice(0, 12)" :key="one.path">
        <button type="button" :title="one.path" @click="choose(one)">
          <img :src="one.address" :alt="`Colours of ${one.path}`" loading="lazy" data-specimen />
        </button>
      </li>
    </ul>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <div v-show="found" class="found">
      <canvas
        ref="canvas"
        tabindex="0"
        role="application"
        :aria-label="`${name}: move the lens with the arrow keys, take the colour ${under} with Enter`"
        @pointermove="follow"
        @click="emit('take', under)"
        @keydown="press"
      />
      <div>
        <canvas ref="lens" width="90" height="90" aria-hidden="true" />
        <p><i :style="{ background: under }" data-specimen /> {{ under.toUpperCase() }}</p>
      </div>
      <div class="bar">
        <button
          v-for="one in found?.colours ?? []"
          :key="one.colour"
          type="button"
          :style="{ flexGrow: Math.max(0.06, one.share) }"
          :title="`Use ${one.colour}, ${Math.round(one.share * 100)} % of the picture`"
          @click="emit('take', one.colour)"
        >
          <i :style="{ background: one.colour }" data-specimen />
          <span :class="{ unseen: one.share < 0.045 }">{{ Math.round(one.share * 100) }} %</span>
          <span class="unseen"> {{ one.colour }}</span>
        </button>
      </div>
      <p v-if="!isForOne">
        <button type="button" class="act" @click="emit('seeds', found?.seeds ?? [])">
          Use these {{ found?.seeds.length }}
        </button>
      </p>
    </div>
  </section>
</template>

<style scoped>
.PictureColours {
  display: grid;
  gap: 8px;
}
.file {
  display: block;
  padding: 8px;
  border: 1px dashed var(--edge);
  cursor: pointer;
}
.own {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.own button {
  padding: 0;
  border: 1px solid var(--edge);
  background: none;
  cursor: pointer;
}
.own img {
  display: block;
  width: 64px;
  height: 44px;
  object-fit: cover;
}
.found {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
}
.found > canvas {
  cursor: crosshair;
}
.bar {
  display: flex;
  flex-basis: 100%;
  align-items: flex-start;
}
.bar button {
  flex-basis: 0;
  min-width: 20px;
  padding: 0;
  border: 0;
  background: none;
  font-size: 12px;
  cursor: pointer;
}
.bar i {
  display: block;
  height: 34px;
}
p i {
  display: inline-block;
  width: 16px;
  height: 16px;
  vertical-align: -3px;
}
</style>
