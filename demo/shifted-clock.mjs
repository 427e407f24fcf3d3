// Preloaded into the outside world while the demo is furnished: its clock is off by what its parent process says, so
// that two months of payments can be made in a minute. Nothing else of the programs changes.
const RealDate = Date;
let offset = Number(process.env.CLOCK_OFFSET) || 0;
process.on("message", (to) => {
  offset = to;
  process.send("set");
});
// Waiting for word keeps nobody from ending; whoever is left alone ends.
process.channel.unref();
process.on("disconnect", () => process.exit());

globalThis.Date = class extends RealDate {
  constructor(...parts) {
    if (parts.length === 0) super(RealDate.now() + offset);
    else super(...parts);
  }
  static now() {
    return RealDate.now() + offset;
  }
};
