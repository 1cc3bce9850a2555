// The grid with the parts of it that sheets use.
export { SlickCellRangeDecorator, SlickCellRangeSelector, SlickCellSelectionModel, SlickGrid, SlickRange } from "slickgrid";
