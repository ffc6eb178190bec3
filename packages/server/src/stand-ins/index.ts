export { type Outbox, type OutboxMail, type OutboxOptions, openOutbox } from './outbox.ts';
export { openPrinterTray, type PrinterTray, type PrinterTrayOptions, type TrayJob } from './printer-tray.ts';
