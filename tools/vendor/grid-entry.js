// The grid with the parts of it that sheets use.
export {
  ClipboardModule,
  EditModule,
  FormatModule,
  FrozenColumnsModule,
  InteractionModule,
  KeybindingsModule,
  ResizeColumnsModule,
  SelectRangeModule,
  Tabulator,
} from "tabulator-tables";
