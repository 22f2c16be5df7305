import { zip, type AsyncZippable } from "fflate";

export interface Packable {
  path: string;
  file: File;
}

export const MOST_FILES = 3000;
/** What a browser or a crawl keeps pages in, by the ends of its names. */
export const SAVED = [".mhtml", ".mht", ".html", ".htm", ".har", ".warc", ".warc.gz", ".gz", ".wacz"];
const MOST_BYTES = 250 * 1024 * 1024;
const IGNORED = /(^|\/)(node_modules|\.git|\.svn|__MACOSX|\.DS_Store|Thumbs\.db)(\/|$)/;

/** Whether a file is a site by itself, and sent as it is. */
export const isWhole = (path: string): boolean =>
  path.toLowerCase().endsWith(".zip") || SAVED.some((end) => path.toLowerCase().endsWith(end));

/** Packs a folder's files into one archive, as the server wants them; larger ones than it takes are refused here. */
export async function packed(files: Packable[]): Promise<File> {
  const kept = files.filter((one) => !IGNORED.test(one.path));
  if (!kept.length) throw new Error("That folder is empty. Choose the one with index.html in it.");
  if (kept.length > MOST_FILES)
    throw new Error(
      `That folder holds ${kept.length.toLocaleString("en-GB")} files; Glaucon takes 3,000. Leave out what the pages do not show.`,
    );
  if (kept.reduce((sum, one) => sum + one.file.size, 0) > MOST_BYTES)
    throw new Error("That folder is larger than 250 MB. Leave out films and downloads, then choose it again.");
  const entries: AsyncZippable = {};
  for (const one of kept) entries[one.path] = [new Uint8Array(await one.file.arrayBuffer()), { level: 3 }];
  const data = await new Promise<Uint8Array>((resolve, reject) =>
    zip(entries, (error, done) => (error ? reject(error) : resolve(done))),
  );
  const [first] = kept as [Packable, ...Packable[]];
  const [top, ...inside] = first.path.split("/") as [string, ...string[]];
  // a saved page is called by its title
  const name = inside.length ? top : isWhole(first.path) ? top.replace(/\.\w+$/, "") : "site";
  return new File([new Uint8Array(data)], `${name}.zip`, {
    type: "application/zip",
  });
}

/** Everything in what was dropped, folders gone through. */
export async function filesOfDrop(drop: DataTransfer): Promise<Packable[]> {
  const entries = [...drop.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const found: Packable[] = [];
  for (const entry of entries) await walk(entry, "", found);
  return found;
}

async function walk(entry: FileSystemEntry, above: string, found: Packable[]): Promise<void> {
  const path = above + entry.name;
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    found.push({ path, file });
  } else if (found.length <= MOST_FILES && !IGNORED.test(path)) {
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (;;) {
      // a reader gives a hundred entries at a time
      const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
      if (!some.length) break;
      for (const one of some) await walk(one, `${path}/`, found);
    }
  }
}
