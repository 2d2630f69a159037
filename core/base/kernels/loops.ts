/** Made by `npm run kernels` from core/base/kernels/assembly: its loops, whose arguments have names. */

/** The arguments of each loop, in the order in which it takes them. The sources in assembly/ say what it does. */
interface Names {
  alignTemplate: 'plane width height template size stride mask scratch steps reach out';
  prepareTemplate: 'plane width left top size stride mask scratch window template out';
  fitPose: 'evidence count pose reach wide rounds prior normal scratch out';
  solveFour: 'normal right scratch out';
  supportOf: 'evidence count pose reach';
  meansOfCells: 'luma width columns rows across down sums out';
  detailOfCells: 'plane width height across down step sums fine coarse';
  compareColour: 'blue red ownBlue ownRed stray gain doubt colour count';
  countAbove: 'values count bound';
  strengthen: 'scaled rows strength width height share';
  strengthenByColour: 'colour across down width height noise restless strength';
  subtract: 'luma table expected extra inverse difference scaled count';
  countChanges: 'now before count counts';
  cellsOverFrames: 'energies taken frames cells grain gain values out';
  framesOverCells: 'energies taken frames cells grain gain chosen many best values out';
  quantileOf: 'values count q';
  readLight: 'luma seen places levels reach weight stops count ratios bins many bin' | 'out';
  addShifted: 'mask sums dx dy width height';
  asMostSay: 'said voters own vertical width height out';
  changesBetween: 'before after ever count';
  grow: 'mask width height reach line rows out';
  majority: 'mask width height r columns out';
  setInLines: 'raw known wide width height across seen much limit set knownIn';
  widenToBand: 'mask width height across reach line out';
  addToPanorama:
    | 'field weight width fromX toX fromY toY u0 v0 c s luma'
    | 'blue red free across down colourAcross colourDown gain follow';
  expectView: 'luma known covered gain count expected usable';
  showPanorama: 'field width height u0 v0 c s across down coloured luma blue' | 'red known';
  movePieces: 'kind from to asFrom asTo across down agree width left top right' | 'bottom pieces list';
  halve: 'plane width height out';
  layPicture: 'plane width height u0 v0 c s across down cubic out seen';
  shrinkBlocks: 'plane width height factor across down rim columns out';
  widenLuma: 'plane count';
  firstLabels: 'asBack asBody over slight width left top right bottom back body shade';
  pickLabels: 'back body shade width left top right bottom kind';
  settleLabels:
    'asBack asBody asShade inside across down agree backwards width left top right' | 'bottom back body shade';
  weighBorders:
    | 'light lightBlue lightRed backLuma backBlue backRed sharpness inside colourSharpness agree least contrast'
    | 'width left top right bottom across down';
  weighPixels:
    | 'luma blue red seen inside table gain backLuma backBlue backRed backStops sharpness'
    | 'spread colourSharpness stops densities swaying swayingPlace swayingDensities tempered odds hint width left'
    | 'top right bottom light lightBlue lightRed over asBack asBody';
  weighShade:
    | 'light lightBlue lightRed over inside backLuma backBlue backRed sharpness colourSharpness colourSpread evenness'
    | 'slopes asBack back shade slight uneven rim depth tempered odds hint reach'
    | 'width left top right bottom sums weights lit asShade';
  listRegions: 'mask width height least most runs sets pixels';
  stepEquations: 'expected seen usable width height cut astray whole out';
  countColours: 'light lightBlue lightRed kind body sure width left top right bottom bins';
  depthsOfBody: 'kind most width left top right bottom depth';
  partOfPixels:
    | 'light lightBlue lightRed over backLuma backBlue backRed backStops sharpness colourSharpness stops kind'
    | 'depth rim reach distance unlike width left top right bottom out';
  addSample: 'even own table mask low high middle sums squares counts seen count';
  averageColour:
    'samples masks blues reds gains spells trusted count width height across down' | 'middle reach blue red';
  countLeaving: 'samples masks count pixels middle far inside spells away times when';
  middleOfSamples: 'samples tables count pixels step values out';
  settle: 'samples masks count pixels noise extra sure hist middle reach unsure';
  translate: 'codes table out count';
  allowances: 'luma blue red width height slack base tintSlack tinted least leastColour';
  boxMeans: 'values width height r columns out';
  divideBy: 'sums shares count';
  explainByShift:
    | 'out near luma blue red colourAcross ownLuma ownBlue ownRed known width height'
    | 'gain least leastColour cap shifts many other most explained';
  leaveOut: 'values count limit cut rest';
  markAbove: 'values count limit marks';
  markOther: 'known near most wide count other otherWide otherNear out';
  squaresOf:
    | 'luma blue red colourAcross ownLuma ownBlue ownRed known width height gain least'
    | 'leastColour cap wideCap squares cut';
  addZones: 'luma zoneOf strength restless difference scaled perStop bound pixels sums steps counts' | 'all';
  layZones: 'stops across down perStop width height row field';
}

type Each<Text extends string> = Text extends `${infer First} ${infer Rest}` ? First | Each<Rest> : Text;

/** The loops by name. Addresses are bytes in the memory of the instance. A loop that gives a truth gives 0 or 1. */
export type Loops = { [Name in keyof Names]: (a: Record<Each<Names[Name]>, number>) => number };

/** Gives the arguments in the order in which the compiled loops take them. */
export function bindLoops(raw: Record<string, (...args: number[]) => number>): Loops {
  // prettier-ignore
  return {
    alignTemplate: (a) => raw.alignTemplate(a.plane, a.width, a.height, a.template, a.size, a.stride, a.mask,
      a.scratch, a.steps, a.reach, a.out),
    prepareTemplate: (a) => raw.prepareTemplate(a.plane, a.width, a.left, a.top, a.size, a.stride, a.mask, a.scratch,
      a.window, a.template, a.out),
    fitPose: (a) => raw.fitPose(a.evidence, a.count, a.pose, a.reach, a.wide, a.rounds, a.prior, a.normal, a.scratch,
      a.out),
    solveFour: (a) => raw.solveFour(a.normal, a.right, a.scratch, a.out),
    supportOf: (a) => raw.supportOf(a.evidence, a.count, a.pose, a.reach),
    meansOfCells: (a) => raw.meansOfCells(a.luma, a.width, a.columns, a.rows, a.across, a.down, a.sums, a.out),
    detailOfCells: (a) => raw.detailOfCells(a.plane, a.width, a.height, a.across, a.down, a.step, a.sums, a.fine,
      a.coarse),
    compareColour: (a) => raw.compareColour(a.blue, a.red, a.ownBlue, a.ownRed, a.stray, a.gain, a.doubt, a.colour,
      a.count),
    countAbove: (a) => raw.countAbove(a.values, a.count, a.bound),
    strengthen: (a) => raw.strengthen(a.scaled, a.rows, a.strength, a.width, a.height, a.share),
    strengthenByColour: (a) => raw.strengthenByColour(a.colour, a.across, a.down, a.width, a.height, a.noise,
      a.restless, a.strength),
    subtract: (a) => raw.subtract(a.luma, a.table, a.expected, a.extra, a.inverse, a.difference, a.scaled, a.count),
    countChanges: (a) => raw.countChanges(a.now, a.before, a.count, a.counts),
    cellsOverFrames: (a) => raw.cellsOverFrames(a.energies, a.taken, a.frames, a.cells, a.grain, a.gain, a.values,
      a.out),
    framesOverCells: (a) => raw.framesOverCells(a.energies, a.taken, a.frames, a.cells, a.grain, a.gain, a.chosen,
      a.many, a.best, a.values, a.out),
    quantileOf: (a) => raw.quantileOf(a.values, a.count, a.q),
    readLight: (a) => raw.readLight(a.luma, a.seen, a.places, a.levels, a.reach, a.weight, a.stops, a.count, a.ratios,
      a.bins, a.many, a.bin, a.out),
    addShifted: (a) => raw.addShifted(a.mask, a.sums, a.dx, a.dy, a.width, a.height),
    asMostSay: (a) => raw.asMostSay(a.said, a.voters, a.own, a.vertical, a.width, a.height, a.out),
    changesBetween: (a) => raw.changesBetween(a.before, a.after, a.ever, a.count),
    grow: (a) => raw.grow(a.mask, a.width, a.height, a.reach, a.line, a.rows, a.out),
    majority: (a) => raw.majority(a.mask, a.width, a.height, a.r, a.columns, a.out),
    setInLines: (a) => raw.setInLines(a.raw, a.known, a.wide, a.width, a.height, a.across, a.seen, a.much, a.limit,
      a.set, a.knownIn),
    widenToBand: (a) => raw.widenToBand(a.mask, a.width, a.height, a.across, a.reach, a.line, a.out),
    addToPanorama: (a) => raw.addToPanorama(a.field, a.weight, a.width, a.fromX, a.toX, a.fromY, a.toY, a.u0, a.v0,
      a.c, a.s, a.luma, a.blue, a.red, a.free, a.across, a.down, a.colourAcross, a.colourDown, a.gain, a.follow),
    expectView: (a) => raw.expectView(a.luma, a.known, a.covered, a.gain, a.count, a.expected, a.usable),
    showPanorama: (a) => raw.showPanorama(a.field, a.width, a.height, a.u0, a.v0, a.c, a.s, a.across, a.down,
      a.coloured, a.luma, a.blue, a.red, a.known),
    movePieces: (a) => raw.movePieces(a.kind, a.from, a.to, a.asFrom, a.asTo, a.across, a.down, a.agree, a.width,
      a.left, a.top, a.right, a.bottom, a.pieces, a.list),
    halve: (a) => raw.halve(a.plane, a.width, a.height, a.out),
    layPicture: (a) => raw.layPicture(a.plane, a.width, a.height, a.u0, a.v0, a.c, a.s, a.across, a.down, a.cubic,
      a.out, a.seen),
    shrinkBlocks: (a) => raw.shrinkBlocks(a.plane, a.width, a.height, a.factor, a.across, a.down, a.rim, a.columns,
      a.out),
    widenLuma: (a) => raw.widenLuma(a.plane, a.count),
    firstLabels: (a) => raw.firstLabels(a.asBack, a.asBody, a.over, a.slight, a.width, a.left, a.top, a.right,
      a.bottom, a.back, a.body, a.shade),
    pickLabels: (a) => raw.pickLabels(a.back, a.body, a.shade, a.width, a.left, a.top, a.right, a.bottom, a.kind),
    settleLabels: (a) => raw.settleLabels(a.asBack, a.asBody, a.asShade, a.inside, a.across, a.down, a.agree,
      a.backwards, a.width, a.left, a.top, a.right, a.bottom, a.back, a.body, a.shade),
    weighBorders: (a) => raw.weighBorders(a.light, a.lightBlue, a.lightRed, a.backLuma, a.backBlue, a.backRed,
      a.sharpness, a.inside, a.colourSharpness, a.agree, a.least, a.contrast, a.width, a.left, a.top, a.right,
      a.bottom, a.across, a.down),
    weighPixels: (a) => raw.weighPixels(a.luma, a.blue, a.red, a.seen, a.inside, a.table, a.gain, a.backLuma,
      a.backBlue, a.backRed, a.backStops, a.sharpness, a.spread, a.colourSharpness, a.stops, a.densities, a.swaying,
      a.swayingPlace, a.swayingDensities, a.tempered, a.odds, a.hint, a.width, a.left, a.top, a.right, a.bottom,
      a.light, a.lightBlue, a.lightRed, a.over, a.asBack, a.asBody),
    weighShade: (a) => raw.weighShade(a.light, a.lightBlue, a.lightRed, a.over, a.inside, a.backLuma, a.backBlue,
      a.backRed, a.sharpness, a.colourSharpness, a.colourSpread, a.evenness, a.slopes, a.asBack, a.back, a.shade,
      a.slight, a.uneven, a.rim, a.depth, a.tempered, a.odds, a.hint, a.reach, a.width, a.left, a.top, a.right,
      a.bottom, a.sums, a.weights, a.lit, a.asShade),
    listRegions: (a) => raw.listRegions(a.mask, a.width, a.height, a.least, a.most, a.runs, a.sets, a.pixels),
    stepEquations: (a) => raw.stepEquations(a.expected, a.seen, a.usable, a.width, a.height, a.cut, a.astray, a.whole,
      a.out),
    countColours: (a) => raw.countColours(a.light, a.lightBlue, a.lightRed, a.kind, a.body, a.sure, a.width, a.left,
      a.top, a.right, a.bottom, a.bins),
    depthsOfBody: (a) => raw.depthsOfBody(a.kind, a.most, a.width, a.left, a.top, a.right, a.bottom, a.depth),
    partOfPixels: (a) => raw.partOfPixels(a.light, a.lightBlue, a.lightRed, a.over, a.backLuma, a.backBlue, a.backRed,
      a.backStops, a.sharpness, a.colourSharpness, a.stops, a.kind, a.depth, a.rim, a.reach, a.distance, a.unlike,
      a.width, a.left, a.top, a.right, a.bottom, a.out),
    addSample: (a) => raw.addSample(a.even, a.own, a.table, a.mask, a.low, a.high, a.middle, a.sums, a.squares,
      a.counts, a.seen, a.count),
    averageColour: (a) => raw.averageColour(a.samples, a.masks, a.blues, a.reds, a.gains, a.spells, a.trusted, a.count,
      a.width, a.height, a.across, a.down, a.middle, a.reach, a.blue, a.red),
    countLeaving: (a) => raw.countLeaving(a.samples, a.masks, a.count, a.pixels, a.middle, a.far, a.inside, a.spells,
      a.away, a.times, a.when),
    middleOfSamples: (a) => raw.middleOfSamples(a.samples, a.tables, a.count, a.pixels, a.step, a.values, a.out),
    settle: (a) => raw.settle(a.samples, a.masks, a.count, a.pixels, a.noise, a.extra, a.sure, a.hist, a.middle,
      a.reach, a.unsure),
    translate: (a) => raw.translate(a.codes, a.table, a.out, a.count),
    allowances: (a) => raw.allowances(a.luma, a.blue, a.red, a.width, a.height, a.slack, a.base, a.tintSlack, a.tinted,
      a.least, a.leastColour),
    boxMeans: (a) => raw.boxMeans(a.values, a.width, a.height, a.r, a.columns, a.out),
    divideBy: (a) => raw.divideBy(a.sums, a.shares, a.count),
    explainByShift: (a) => raw.explainByShift(a.out, a.near, a.luma, a.blue, a.red, a.colourAcross, a.ownLuma,
      a.ownBlue, a.ownRed, a.known, a.width, a.height, a.gain, a.least, a.leastColour, a.cap, a.shifts, a.many,
      a.other, a.most, a.explained),
    leaveOut: (a) => raw.leaveOut(a.values, a.count, a.limit, a.cut, a.rest),
    markAbove: (a) => raw.markAbove(a.values, a.count, a.limit, a.marks),
    markOther: (a) => raw.markOther(a.known, a.near, a.most, a.wide, a.count, a.other, a.otherWide, a.otherNear, a.out),
    squaresOf: (a) => raw.squaresOf(a.luma, a.blue, a.red, a.colourAcross, a.ownLuma, a.ownBlue, a.ownRed, a.known,
      a.width, a.height, a.gain, a.least, a.leastColour, a.cap, a.wideCap, a.squares, a.cut),
    addZones: (a) => raw.addZones(a.luma, a.zoneOf, a.strength, a.restless, a.difference, a.scaled, a.perStop, a.bound,
      a.pixels, a.sums, a.steps, a.counts, a.all),
    layZones: (a) => raw.layZones(a.stops, a.across, a.down, a.perStop, a.width, a.height, a.row, a.field),
  };
}
