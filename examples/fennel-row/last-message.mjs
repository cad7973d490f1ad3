// The last code or link that cavrin serve has sent to an account: node last-message.mjs http://127.0.0.1:4180 code wanda
const [address, kind, account] = process.argv.slice(2);
const { messages } = await (await fetch(`${address}/-/state`)).json();
console.log(messages.findLast((message) => message.kind === kind && message.to === account)?.text ?? '');
