// The tool in hand: what the next drag on the whole photo does.

export const tool = {
  tool: null, // null, or the name of one of `tools`

  use(tool) {
    this.tool = this.tool === tool ? null : tool;
    this.$refs.whole.dataset.tool = this.tool ?? "";
    this.trouble = "";
    this.redraw();
  },
};
