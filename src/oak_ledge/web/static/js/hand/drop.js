// Photos dropped anywhere on a page: `over` while they hover above it, then `bring(page, files)`.

export const dropping = (bring) => ({
  "@dragover.window.prevent"(event) {
    this.over = event.dataTransfer.types.includes("Files");
  },
  "@dragleave.window"(event) {
    if (!event.relatedTarget) this.over = false;
  },
  "@drop.window.prevent"(event) {
    this.over = false;
    bring(this, event.dataTransfer.files);
  },
});
