// Lines of readings: the open one shows its drawing, its tool and its keypad. Enter goes on to the next empty
// line, and saves from the last one. A key replaces the whole number, the fraction or the wording.
document.addEventListener("alpine:init", () => {
  Alpine.data("entry", () => ({
    text: "",
    field: null,
    init() {
      this.use(this.$root.querySelector(".line.open [data-field]") || this.$refs.text);
      this.askTool(this.$root.querySelector(".line.open"));
    },
    use(field) { this.field = field; this.text = field.value; },
    used(event) {
      const line = event.target.closest(".line");
      if (line && !line.matches(".open")) this.open(line);
      if (event.target.matches("input[type=text]")) this.use(event.target);
    },
    open(line) {
      for (const one of this.$root.querySelectorAll(".line.open")) this.close(one);
      line.classList.add("open");
      for (const one of document.querySelectorAll("[data-of-line]")) one.value = line.dataset.line;
      this.askTool(line);
      line.scrollIntoView({block: "nearest"});
    },
    close(line) {
      line.classList.remove("open");
      for (const box of line.querySelectorAll(".tool-now")) box.remove();
    },
    askTool(line) {
      const idle = line?.querySelector("template[data-tool]");
      if (!idle) return;
      const box = idle.content.firstElementChild.cloneNode(true);
      idle.after(box);
      htmx.process(box);
    },
    // What the plugged-in tool shows is written down where nothing was typed.
    takeShown(line) {
      const shown = line.querySelector(".tool-now")?.dataset;
      if (!shown?.device || this.field.value || line.querySelector("[data-key]:checked")) return;
      this.put(shown.text);
      const ways = [...line.querySelectorAll("input[type=radio][data-key]")];
      const way = ways.find((one) => one.value === shown.direction);
      if (way) way.checked = true;
      const taken = {tool_text: shown.text, tool_direction: shown.direction, device: shown.device};
      for (const [name, value] of Object.entries(taken)) {
        line.querySelector(`input[name="${line.dataset.line}-${name}"]`).value = value;
      }
    },
    save() {
      const lines = this.$root.querySelectorAll(".line");
      if (lines.length === 1) this.takeShown(lines[0]);
    },
    sync(event) { this.use(event.target); },
    then(event) {
      const line = event.target.closest(".line");
      if (line) this.takeShown(line);
      const fields = [...this.$root.querySelectorAll("[data-field]")];
      const next = fields.slice(fields.indexOf(event.target) + 1).find((one) => !one.value);
      if (!next) return;
      event.preventDefault();
      next.focus();
    },
    put(text) {
      this.text = text;
      this.field.value = text;
      this.field.dispatchEvent(new Event("input", {bubbles: true}));
    },
    whole(event) {
      const rest = this.text.match(/(?:^|\s)(\d+\/\d+[+-]?)$|(\.\d+)$/);
      const tail = rest ? (rest[1] ? " " + rest[1] : rest[2]) : "";
      this.put(event.currentTarget.dataset.value + tail);
    },
    part(event) {
      const value = event.currentTarget.dataset.value;
      if (!value.includes("/") && !value.startsWith(".")) { this.put(value); return; }
      const whole = (this.text.match(/^\d+(?![\d/])/) || [""])[0];
      this.put(value.startsWith(".") ? whole + value : (whole ? `${whole} ${value}` : value));
    },
    replace(event) { this.put(event.currentTarget.dataset.value); },
    ending(event) {
      const bare = this.text.replace(/[+-]$/, "");
      if (bare) this.put(bare + event.currentTarget.dataset.value);
    },
    clear() { this.put(""); },
  }));
});
