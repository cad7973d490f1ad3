// Loaded before an app: its clock stands still, and goes on only when it is told how many seconds have gone by.
const START = Number(process.env.CLOCK_START ?? Date.UTC(2026, 0, 1));
const RealDate = Date;
let passed = 0;

globalThis.Date = class extends RealDate {
  constructor(...parts) {
    if (parts.length === 0) super(START + passed);
    else super(...parts);
  }

  static now() {
    return START + passed;
  }
};

process.on('message', ({ clock }) => {
  if (typeof clock !== 'number') return;
  passed = clock * 1000;
  process.send?.({ clock });
});
