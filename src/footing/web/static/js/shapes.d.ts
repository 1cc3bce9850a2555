// Made of studies/shapes by tools/shapes/make.py; what is changed here is lost.

/** How points of a series are drawn, by choice of a class or a graph; dashed for its fits. */
export interface SeriesRule {
  form?: string;
  size?: number;
  joined?: string;
  colour?: string;
  dashed?: boolean;
}

/** A series of another sheet that a graph shows, by the keys of its columns. */
export interface OtherSeries {
  sheet: number;
  x: string;
  y: string;
}

/** What is said about a parameter, as typed: where to start or what it is, and its bounds. */
export interface GivenParameter {
  value: string;
  fixed: boolean;
  low: string;
  high: string;
}

/** Something by its key and name. */
export interface NamedKey {
  id: number;
  name: string;
}

/** One source in the list of sources. */
export interface SourceLine {
  id: number | string;
  name: string;
  kind: string;
  content: string;
}

/** A video or a picture on the stage. times : of each frame, s; has_time : a picture has none */
export interface FootageShape {
  id: number;
  kind: string;
  has_time: boolean;
  content: string;
  name: string;
  width: number;
  height: number;
  frames: number;
  first: number;
  last: number;
  stride: number;
  notes: string[];
  facts: string[][];
  damaged: number[];
  surveyed: boolean;
  moves_from: number | null;
  times: number[];
}

/** A sheet on the stage, without its cells. of_footage : its rows are moments of a footage */
export interface SheetShape {
  id: number;
  kind: string;
  of_footage: boolean;
  name: string;
  footage: number | null;
  rows: number;
  asides: Record<string, string>;
}

/** How far following is. */
export interface FollowShape {
  id: number;
  footage: number;
  bodies: number[];
  first: number;
  last: number;
  at: number | null;
  state: string;
  said: string;
  stop_level: number;
}

/** A passage, in frames or rows. */
export interface PassageShape {
  id: number;
  name: string;
  first: number;
  last: number;
  text: string;
}

/** A known length: its ends in pixels, and what was typed. */
export interface KnownLengthShape {
  id: number;
  frame: number;
  start: number[];
  end: number[];
  pixels: string;
  placing: string;
  typed: string;
  unit: string;
  own_unit: string;
  text: string;
  uncertainty: string;
  hidden: boolean;
  nearer: string;
  apart: string;
  in_plane: string;
}

/** A corner or another point of an oblique view. */
export interface PlanePointShape {
  id: number;
  place: number;
  at: number[];
  across: string;
  along: string;
  residual: string;
}

/** An oblique view. */
export interface PlaneShape {
  frame: number;
  across: string;
  along: string;
  unit: string;
  points: PlanePointShape[];
  problem: string | null;
  uncertainty: string | null;
  residuals: boolean;
}

/** Where times come from, and what that does. */
export interface ClockShape {
  kind: string;
  typed: string;
  first: number | null;
  last: number | null;
  rate: string;
  step: string;
  likely: string | null;
  offer: string;
  offer_text: string;
  consequence: string;
  uncertainty: string;
}

/** The scale, in words. */
export interface ScaleShape {
  text: string;
  relative: string;
  disagree: boolean;
}

/** What is placed at Ground, and what follows. angle, up : rad; levelled : the line's kind */
export interface GroundShape {
  zero: number[];
  zero_text: string;
  zero_placed: boolean;
  angle: number;
  angle_text: string;
  flip_x: boolean;
  flip_y: boolean;
  quarter: number;
  mirror: boolean;
  up: number;
  up_text: string;
  levelled: string | null;
  height_zero: number[] | null;
  zero_frame: number | null;
  pixel_uncertainty: string;
  length_unit: string;
  study_unit: string;
  scale: ScaleShape | null;
  known_lengths: KnownLengthShape[];
  plane: PlaneShape | null;
  arms: Record<string, number[]> | null;
  sense: string[];
  clock: ClockShape;
  readout: string;
  camera_distance: string;
  others: NamedKey[];
}

/** What stands above a column of a body's table; ``computed`` where somebody made it. */
export interface TableColumnShape {
  key?: string;
  name?: string;
  symbol?: string;
  subscript?: string;
  unit?: string;
  digits?: number | null;
  digits_as?: string;
  highlighted?: boolean;
  computed?: boolean;
  note?: string;
}

/** A body's table: printed cells by rows, and which rows of each column are at an end. */
export interface TableShape {
  columns: TableColumnShape[];
  rows: string[][];
  end_rows: number[][];
}

/** A column that somebody made, as it stands. */
export interface ColumnHead {
  id: number;
  key: string;
  name: string;
  symbol: string;
  shown_symbol: string;
  unit: string;
  formula: string | null;
  highlighted: boolean;
  digits: number | null;
  digits_as: string;
  uncertainty: string;
  scatter: string;
  seed: number;
  problem: string | null;
  units_differ: boolean;
  notes: string[];
  echo: string | null;
  shown_unit: string;
  own_unit: string;
}

/** A column; ``span``: where its formula is wrong. */
export interface ColumnShape {
  id: number;
  key: string;
  name: string;
  symbol: string;
  shown_symbol: string;
  unit: string;
  formula: string | null;
  highlighted: boolean;
  digits: number | null;
  digits_as: string;
  uncertainty: string;
  scatter: string;
  seed: number;
  problem: string | null;
  units_differ: boolean;
  notes: string[];
  echo: string | null;
  shown_unit: string;
  own_unit: string;
  span?: [number, number] | null;
}

/** What a graph can show. */
export interface QuantityShape {
  key: string;
  name: string;
  symbol: string;
}

/** A quantity of the study that formulas can name. */
export interface StudyQuantityShape {
  id: number;
  symbol: string;
  shown_symbol: string;
  name: string;
  typed: string;
  unit: string;
  own_unit: string;
}

/** A quantity over time: rows among the counting marks, values there, also as printed. */
export interface LaneShape {
  symbol: string;
  unit: string;
  rows: number[];
  values: number[];
  texts: string[];
}

/** A mark that is odd, and what is odd about it. */
export interface OddShape {
  frame: number;
  kind: string;
  said: string;
}

/** A stretch of frames that following left open; ``shown``: frame, x, y, quality of a few. */
export interface AskedShape {
  first: number;
  last: number;
  count: number;
  proposed: number;
  shown: ((number | null)[])[];
}

/** A body and its marks. marks, ghosts : frame, x, y; doubts : frame, x, y, quality */
export interface BodyHead {
  id: number;
  name: string;
  background: boolean;
  kind: string;
  second_of: number | null;
  members: number[];
  problem: string | null;
  look: number;
  colour: string;
  shape: string;
  path: string;
  mass: string;
  mass_unit: string;
  size: string;
  size_unit: string;
  spot: string;
  first: number | null;
  last: number | null;
  stride: number | null;
  marks: number[][];
  qualities: Record<number, number>;
  aside: number[];
  reasons: Record<number, string>;
  hidden: number[];
  doubts: ((number | null)[])[];
  asked: AskedShape[];
  counting: number[];
  odd: OddShape[];
  ghosts: number[][];
}

/** A body with those of its parts that are shown. vectors : row, dx, dy */
export interface BodyShape {
  id: number;
  name: string;
  background: boolean;
  kind: string;
  second_of: number | null;
  members: number[];
  problem: string | null;
  look: number;
  colour: string;
  shape: string;
  path: string;
  mass: string;
  mass_unit: string;
  size: string;
  size_unit: string;
  spot: string;
  first: number | null;
  last: number | null;
  stride: number | null;
  marks: number[][];
  qualities: Record<number, number>;
  aside: number[];
  reasons: Record<number, string>;
  hidden: number[];
  doubts: ((number | null)[])[];
  asked: AskedShape[];
  counting: number[];
  odd: OddShape[];
  ghosts: number[][];
  table: TableShape | null;
  lanes: Record<string, LaneShape>;
  vectors: Record<string, number[][]>;
}

/** A predicted line on a graph; several parts of one name belong together. */
export interface LineShape {
  key: string;
  name: string;
  colour: string;
  dashed: boolean;
  points: number[][];
}

/** What stands on the horizontal axis. */
export interface AcrossShape {
  name: string;
  unit: string;
}

/** One series of a graph. points : number, x, y, ± of x, ± of y hits : numbers of points before which something hits: no line leads to them band : whether ± is an area */
export interface SeriesShape {
  key: string;
  place: number;
  owner: string;
  owner_id: number;
  owner_name: string;
  of: Record<string, number>;
  x: string;
  y: string;
  name: string;
  symbol: string;
  unit: string;
  colour: string;
  path: string;
  hollow: boolean;
  size: number;
  joined: string;
  every: number;
  points: number[][];
  hits: number[];
  guest: boolean;
  band: boolean;
}

/** What stands for a name: a point of this form, or a line where there is no ``path``. */
export interface LegendEntryShape {
  name: string;
  colour: string;
  path: string | null;
  hollow: boolean;
  dashed: boolean;
}

/** A point that is set aside. */
export interface AsidePointShape {
  number: number;
  x: number;
  y: number;
}

/** Where the axes begin and end. */
export interface RangesShape {
  x_low: number;
  x_high: number;
  y_low: number;
  y_high: number;
}

/** That the upper quantity hardly changes, what it is shown beside, and its close range. */
export interface SteadyShape {
  text: string;
  beside: string;
  ranges: RangesShape;
}

/** A graph: what it shows, its data and ranges; ``spec`` is Vega-Lite without data. lines : what models predict of its quantities waits : whether its points wait until what is expected was sketched legend : whether there is one where something must be told apart; legend_entries : what it says */
export interface GraphShape {
  id: number | null;
  place: number;
  x: string;
  across: AcrossShape;
  ys: string[];
  include_zero: boolean;
  own_title: string;
  title: string;
  error_bars: boolean;
  hidden: number[];
  looks: Record<string, SeriesRule>;
  others: OtherSeries[];
  typed_ranges: Record<string, number[]>;
  x_title: string;
  y_title: string;
  own_axis_titles: string[];
  axis_titles_made: string[];
  sketch: number[][];
  waits: boolean;
  legend: boolean;
  legend_entries: LegendEntryShape[];
  mixed_units: boolean;
  series: SeriesShape[];
  lines: LineShape[];
  asides: AsidePointShape[];
  ranges: RangesShape;
  steady: SteadyShape | null;
  notes: string[];
  spec: Record<string, any>;
  residual_spec: Record<string, any>;
  drawn_fits: number[];
  guest_fits: (FitWith | FitWithout)[];
}

/** What another sheet could show with a graph. */
export interface OtherSeriesShape {
  sheet: number;
  x: string;
  y: string;
  name: string;
  sheet_name: string;
}

/** A number that a fit gives, with all its uncertainty. */
export interface ReadingShape {
  key: string;
  label: string;
  formula: string[][];
  text: string;
  unit: string;
  alone: string;
  besides: string;
  rests_on: string;
  interval: string;
  outside: boolean;
  held: boolean;
  plain: string;
}

/** A fit as it was asked for. */
export interface FitHead {
  id: number;
  owner: string;
  owner_name: string;
  of: Record<string, number>;
  body: number | null;
  passages: number[];
  points: number[] | null;
  x: string;
  y: string;
  curve: string;
  formula: string;
  given: Record<string, GivenParameter>;
  weights: string;
  digits: number | null;
  may_weigh: boolean;
  label_text: string;
  dashed: boolean;
  colour_name: string;
  colour: string;
  box: number[] | null;
  title: string | null;
  names: string[];
  symbols: string[][];
  n: number;
  series: string;
}

/** A fit that comes to nothing, and why. */
export interface FitWithout {
  id: number;
  owner: string;
  owner_name: string;
  of: Record<string, number>;
  body: number | null;
  passages: number[];
  points: number[] | null;
  x: string;
  y: string;
  curve: string;
  formula: string;
  given: Record<string, GivenParameter>;
  weights: string;
  digits: number | null;
  may_weigh: boolean;
  label_text: string;
  dashed: boolean;
  colour_name: string;
  colour: string;
  box: number[] | null;
  title: string | null;
  names: string[];
  symbols: string[][];
  n: number;
  series: string;
  reason: string;
}

/** A fit with what it comes to. doubt : why the curve may not be that of these points line : x, y; residuals : number, x, residual */
export interface FitWith {
  id: number;
  owner: string;
  owner_name: string;
  of: Record<string, number>;
  body: number | null;
  passages: number[];
  points: number[] | null;
  x: string;
  y: string;
  curve: string;
  formula: string;
  given: Record<string, GivenParameter>;
  weights: string;
  digits: number | null;
  may_weigh: boolean;
  label_text: string;
  dashed: boolean;
  colour_name: string;
  colour: string;
  box: number[] | null;
  title: string | null;
  names: string[];
  symbols: string[][];
  n: number;
  series: string;
  reason: null;
  equations: string[];
  plain_equation: string;
  over: string;
  parameters: ReadingShape[];
  readings: ReadingShape[];
  sense: string | null;
  at_bound: string[];
  rival: string;
  problem: string | null;
  doubt: string | null;
  weighed: string;
  scatter: string;
  sum_of_squares: string;
  r: string;
  r_squared: string | null;
  correlations: string[][];
  line: number[][];
  residuals: number[][];
}

/** Which of two fits of the same points is better. */
export interface ChoiceShape {
  fits: number[];
  said: string;
}

/** A contribution to an uncertainty; ``share`` in percent of its square. */
export interface ShareShape {
  source: string;
  text: string;
  share: number;
}

/** A finding beside an accepted value; only ``needs`` where that cannot be. */
export interface ComparisonShape {
  needs?: string | null;
  percent?: string | null;
  verdict?: string;
  distance?: string;
  opposite_sign?: boolean;
  accepted?: string;
}

/** A finding beside another one; only ``needs`` where that cannot be. */
export interface DifferenceShape {
  needs?: string | null;
  name?: string;
  percent?: string | null;
  verdict?: string;
  distance?: string;
}

/** A finding as it was kept. */
export interface FindingHead {
  id: number;
  fit: number | null;
  model: number | null;
  reading: string | null;
  name: string;
  symbol: string;
  other: number | null;
  formula: string | null;
  as_size: boolean;
  highlighted: boolean;
  accepted: string;
  accepted_uncertainty: string;
}

/** A finding that has no value, and why. */
export interface FindingWithout {
  id: number;
  fit: number | null;
  model: number | null;
  reading: string | null;
  name: string;
  symbol: string;
  other: number | null;
  formula: string | null;
  as_size: boolean;
  highlighted: boolean;
  accepted: string;
  accepted_uncertainty: string;
  reason: string;
}

/** A finding with its value ± uncertainty, budget and comparisons. */
export interface FindingWith {
  id: number;
  fit: number | null;
  model: number | null;
  reading: string | null;
  name: string;
  symbol: string;
  other: number | null;
  formula: string | null;
  as_size: boolean;
  highlighted: boolean;
  accepted: string;
  accepted_uncertainty: string;
  reason: null;
  of: string;
  shown_formula: string | null;
  text: string;
  unit: string;
  interval: string;
  budget: ShareShape[];
  accepted_unit: string;
  comparison: ComparisonShape | null;
  difference: DifferenceShape | null;
}

/** A soundness check; ``step`` is where to go, ``number`` of a mark or a row. */
export interface CheckShape {
  key: string;
  sound: boolean;
  title: string;
  reason: string;
  step: string;
  number: number | null;
}

/** A finding that a lab asks for, and what the study has recorded under its name. accepted, tolerance (per cent) : None where the lab does not show them */
export interface AskedFindingShape {
  name: string;
  quantity: string;
  unit: string;
  accepted: string | null;
  tolerance: string | null;
  found: string[];
}

/** A question of a lab, and what the study answers. */
export interface AnswerShape {
  id: number;
  question: string;
  words: string;
}

/** A line of the instructions that asks for something at a step. words : as Markdown */
export interface LabTaskShape {
  step: "sources" | "ground" | "mark" | "graph" | "model" | "ledger" | "report";
  words: string;
  done: boolean;
}

/** What the lab asks for. given : whether there is something to start from checks : what its instructions want of the study, and if it is so tasks : the same, line by line */
export interface LabShape {
  id: number;
  class_id: number;
  given: boolean;
  title: string;
  question: string;
  instructions: string;
  due: string;
  checks: Record<string, boolean>;
  tasks: LabTaskShape[];
  asked: AskedFindingShape[];
  questions: AnswerShape[];
  follows: boolean;
  sketch_first: boolean;
}

/** What the class laid down, and whether this person may change it. */
export interface RulesShape {
  series_look: SeriesRule;
  tells_meanings: boolean;
  tells_verdicts: boolean;
  has_lab: boolean;
  may_change: boolean;
}

/** A moment that no derivative crosses. of : what it is; said : where it lies, in words */
export interface ImpactShape {
  id: number;
  at: number;
  body: number | null;
  body_name: string;
  of: string;
  name: string;
  said: string;
}

/** Where the velocity of a body breaks. */
export interface OfferedImpactShape {
  body: number;
  at: number;
  said: string;
}

/** A body in the account of energies. needs, asks : what is missing, or doubtful, in words */
export interface EnergyBodyShape {
  id: number;
  name: string;
  colour: string;
  path: string;
  counts: boolean;
  mass: string;
  mass_unit: string;
  needs: string;
  asks: string;
  turns: boolean;
  inertia_shape: string;
  inertia: string;
}

/** An energy at each of the frames of the bars. total : that of all */
export interface BarShape {
  key: string;
  name: string;
  symbol: string;
  colour: string;
  hollow: boolean;
  total: boolean;
  values: number[];
  texts: string[];
}

/** Energies that move with the time cursor, on one fixed scale. */
export interface BarsShape {
  frames: number[];
  low: number;
  high: number;
  unit: string;
  bars: BarShape[];
}

/** A kind of energy at the start and the end of a passage, and what changed. */
export interface EnergyRowShape {
  key: string;
  name: string;
  total: boolean;
  start: string;
  end: string;
  change: string;
  percent: string;
}

/** A passage in the account of energies. of : names what its working is asked by */
export interface EnergyChangeShape {
  name: string;
  text: string;
  passage: number;
  rows: EnergyRowShape[];
  said: string;
  force: string;
  power: string;
  decides: string;
  advice: string;
}

/** A moment whose energies are compared with others; ``chosen`` if somebody did. */
export interface MomentShape {
  key: string;
  name: string;
  frame: number;
  chosen: boolean;
  text: string;
  texts: string[];
}

/** A spring; fixed : its fixed end in pixels, where there is one. */
export interface SpringShape {
  body: number | null;
  constant: string;
  unit: string;
  rest_length: string;
  rest_unit: string;
  fixed: number[] | null;
}

/** A body before or after: components as printed. */
export interface MomentumSideShape {
  vx: string;
  vy: string;
  px: string;
  py: string;
  size: string;
  rests: boolean;
  bent: boolean;
}

/** A body in the account of momenta. */
export interface MomentumRowShape {
  id: number;
  key: string;
  name: string;
  colour: string;
  path: string;
  mass: string;
  counts: boolean;
  needs: string;
  before: MomentumSideShape | null;
  after: MomentumSideShape | null;
  impulse_x: string;
  impulse_y: string;
  rests_before: boolean;
  rests_after: boolean;
}

/** The total on a side, and the velocity of the centre of mass. */
export interface TotalShape {
  x: string;
  y: string;
  size: string;
  centre_x: string;
  centre_y: string;
}

/** A momentum over the frame: from and to in pixels. side : before or after */
export interface ArrowShape {
  name: string;
  start: number[];
  end: number[];
  colour: string;
  side: string;
  total: boolean;
}

/** An entry of a blank account. right : None before it was filled in */
export interface CellShape {
  typed: string;
  right: boolean | null;
  said: string;
}

/** The account of momenta around an impact. */
export interface MomentumShape {
  impact: number;
  title: string;
  before: number | null;
  after: number | null;
  before_text: string;
  after_text: string;
  before_choices: [number, string][];
  after_choices: [number, string][];
  unit: string;
  unit_text: string;
  problem: string;
  step: string;
  rows: MomentumRowShape[];
  total_before: TotalShape | null;
  total_after: TotalShape | null;
  change_x: string;
  change_y: string;
  percent: string;
  conserved: string;
  said: string;
  decides: string;
  restitution: string;
  kept: string;
  happened: string;
  arrows: ArrowShape[];
  blank: boolean;
  cells: Record<string, CellShape>;
  words: string;
}

/** The account of the energies of a footage, but for its graph. step : where to put it right */
export interface EnergyShape {
  problem: string;
  step: string;
  bodies: EnergyBodyShape[];
  against: string;
  from_above: boolean;
  bars: BarsShape | null;
  changes: EnergyChangeShape[];
  moments: MomentShape[];
  columns: number[];
  joules: [number, string][];
  spring: SpringShape;
  gravity: string;
  level: number[];
  unit: string;
  window: number;
  words: string;
}

/** A reading of a fit that a parameter can be taken from. value : as an option has it */
export interface OfferedReadingShape {
  value: string;
  text: string;
}

/** A parameter of a model. leg : whose it is; None for one of all legs how : where it comes from, as an option has it; hows : what can be chosen, with words typed, unit : as typed; units : those it can be typed in text : its value with ± and unit; alone : ± of the search alone, where that is less number, low, high : in ``unit``, for a slider; None where it has no value found : whether it was found from marks */
export interface ModelParameterShape {
  leg: number | null;
  name: string;
  title: string;
  symbol: string[][];
  how: string;
  hows: OfferedReadingShape[];
  typed: string;
  unit: string;
  units: string[];
  as_is: string;
  shape: string;
  text: string;
  alone: string;
  number: number | null;
  low: number;
  high: number;
  found: boolean;
  at_limit: boolean;
  problem: string;
}

/** A leg of a model. first, last : frames between which it goes (parts of frames, too); empty without film border : whether its end follows from the passages or is found from the marks formulas : whether its law is written down rms : how far marks lie from it, with unit; marks : how many there are */
export interface LegShape {
  id: number;
  number: number;
  law: string;
  title: string;
  passage: number | null;
  passage_name: string;
  first: number | null;
  last: number | null;
  text: string;
  lasts: string;
  goes_on: string;
  hits: boolean;
  normal: string;
  border: string;
  is_last: boolean;
  formulas: boolean;
  along_x: string;
  along_y: string;
  parameters: ModelParameterShape[];
  rms: string;
  marks: number;
  problem: string;
}

/** A number that a model gives, and by what name formulas call it. of_start : whether it only says where and how fast the motion starts */
export interface ModelResultShape {
  key: string;
  name: string;
  title: string;
  symbol: string[][];
  text: string;
  of_start: boolean;
}

/** Where a model is in each frame that it goes over. x, y : in pixels; leg : by its number; values : by lane, in its unit */
export interface GhostShape {
  frames: number[];
  x: number[];
  y: number[];
  leg: number[];
  values: Record<string, number[]>;
  radius: number;
}

/** A predicted motion. rms : of all marks; stops : where it stops matching, in words, and the frame air : terminal speed and Reynolds number, in words; doubt : what does not suit */
export interface ModelShape {
  id: number;
  name: string;
  shown: boolean;
  body: number | null;
  body_name: string;
  colour: string;
  dashed: boolean;
  legs: LegShape[];
  common: ModelParameterShape[];
  results: ModelResultShape[];
  correlations: string[][];
  rms: string;
  stops: string;
  stops_at: number | null;
  air: string;
  doubt: string;
  converged: boolean;
  problem: string;
  ghost: GhostShape | null;
}

/** The weather as typed. */
export interface WeatherShape {
  temperature: string;
  temperature_unit: string;
  pressure: string;
  pressure_unit: string;
  damp: string;
  damp_is: string;
}

/** A mark beside a model, in the unit of lengths. */
export interface ModelRowShape {
  frame: number;
  cells: string[];
}

/** The marks of a body beside the models of it. headings : of the cells */
export interface ModelTableShape {
  body: string;
  headings: string[];
  rows: ModelRowShape[];
  left_out: number;
}

/** The graphs of a source with their fits. */
export interface GraphsShape {
  graphs: GraphShape[];
  fits: (FitWith | FitWithout)[];
  choices: ChoiceShape[];
}

/** The ledgers of a footage. tells : whether they say what their numbers mean */
export interface LedgerShape {
  tells: boolean;
  offers: OfferedImpactShape[];
  energy: EnergyShape;
  graph: GraphShape | null;
  momenta: MomentumShape[];
}

/** The predicted motions over a source. compared : which does better, in words; density : of the air; by_weather : whether the weather says it; tells : whether words are said */
export interface ModelsShape {
  models: ModelShape[];
  graph: GraphShape | null;
  compared: string[];
  weather: WeatherShape | null;
  density: string;
  by_weather: boolean;
  table: ModelTableShape | null;
  tells: boolean;
}

/** A model as it would be with what is tried, and the graph with it. */
export interface TriedModelShape {
  model: ModelShape;
  graph: GraphShape | null;
}

/** What is the same for all who look at a source. shown : the names of the parts of bodies that were asked for; None for all measured : what stands above the measured columns ledger, models : only where they are shown, because they rest on everything */
export interface SharedShape {
  graphs: GraphShape[];
  fits: (FitWith | FitWithout)[];
  choices: ChoiceShape[];
  shown: string[] | null;
  sources: SourceLine[];
  footage: FootageShape | null;
  sheet: SheetShape | null;
  ground: GroundShape | null;
  bodies: BodyShape[];
  measured: TableColumnShape[];
  passages: PassageShape[];
  findings: (FindingWith | FindingWithout)[];
  checks: CheckShape[];
  columns: ColumnShape[];
  quantities: QuantityShape[];
  study_quantities: StudyQuantityShape[];
  other_series: OtherSeriesShape[];
  read_by_eye: NamedKey[];
  impacts: ImpactShape[];
  ledger: LedgerShape | null;
  models: ModelsShape | null;
  lab: LabShape | null;
  steps: Record<string, string>;
}

/** The state of a study as one person sees it from one of its sources. */
export interface StateShape {
  graphs: GraphShape[];
  fits: (FitWith | FitWithout)[];
  choices: ChoiceShape[];
  shown: string[] | null;
  sources: SourceLine[];
  footage: FootageShape | null;
  sheet: SheetShape | null;
  ground: GroundShape | null;
  bodies: BodyShape[];
  measured: TableColumnShape[];
  passages: PassageShape[];
  findings: (FindingWith | FindingWithout)[];
  checks: CheckShape[];
  columns: ColumnShape[];
  quantities: QuantityShape[];
  study_quantities: StudyQuantityShape[];
  other_series: OtherSeriesShape[];
  read_by_eye: NamedKey[];
  impacts: ImpactShape[];
  ledger: LedgerShape | null;
  models: ModelsShape | null;
  lab: LabShape | null;
  steps: Record<string, string>;
  format: number;
  version: string;
  id: number;
  seq: number;
  undo: string | null;
  redo: string | null;
  rules: RulesShape;
  follow: FollowShape | null;
}

/** How a value becomes another one. */
export interface Change {
  to?: any;
  fields?: Record<string, Change>;
  without?: string[];
  items?: Record<string, Change>;
  rows?: [number, number, any[]];
}

export type FitShape = FitWith | FitWithout;

export type FindingShape = FindingWith | FindingWithout;
