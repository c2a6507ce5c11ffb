/**
 * The names under which answers of the server are kept, in one place. A key is its name and what it is asked with; without arguments it
 * means all of that name, which is how they are asked anew.
 */
const named =
  <Name extends string>(name: Name) =>
  <Of extends readonly unknown[]>(...of: Of) =>
    [name, ...of] as const;

export const keys = {
  /** Looks with what would make them alike. */
  alike: named("alike"),
  /** Who changed people and settings. */
  audit: named("audit"),
  /** Exports of collections. */
  batches: named("batches"),
  /** What the server says of a look's lanes: [look, revision, renderer]. */
  board: named("board"),
  /** Saved steps. */
  chains: named("chains"),
  /** Measurements of a collection's looks. */
  collectionTable: named("collection-table"),
  /** Collections, and the looks in them. */
  collections: named("collections"),
  /** The colour config and what follows from it. */
  colour: named("colour"),
  /** How far two renderers' proofs of a look are apart. */
  compare: named("compare"),
  viewportDifference: named("viewportDifference"),
  /** Numbers of the viewport under the pointer. */
  viewportReadout: named("viewportReadout"),
  /** Numbers of a wall's pictures under the pointer. */
  cellReadout: named("cellReadout"),
  /** A saved wall. */
  comparison: named("comparison"),
  /** The list of saved walls. */
  comparisons: named("comparisons"),
  /** Each lane's share of the proof's time. */
  costs: named("costs"),
  /** The list of deliveries. */
  deliveries: named("deliveries"),
  /** One delivery, sorted. */
  delivery: named("delivery"),
  /** Two cells of a wall against each other. */
  difference: named("difference"),
  /** What amounts of ΔE mean. */
  differenceScale: named("difference-scale"),
  /** Maps that are in a collection twice. */
  duplicates: named("duplicates"),
  /** What each line of a report costs. */
  figures: named("figures"),
  /** A person's saved filters. */
  filters: named("filters"),
  /** The kinds of findings. */
  findingCodes: named("finding-codes"),
  /** What lies in a folder of the server. */
  folderEntries: named("folder-entries"),
  /** Numbers before and after a step. */
  histogram: named("histogram"),
  /** The edits of a look: [look, revision]. */
  history: named("history"),
  /** What an invitation leads to. */
  link: named("link"),
  /** One look: its document and revision. */
  look: named("look"),
  /** A look as it was. */
  lookAt: named("look-at"),
  /** Lists of looks. */
  looks: named("looks"),
  /** Looks that use a map. */
  mapUsers: named("map-users"),
  /** Files of a look that are gone. */
  missingFiles: named("missing-files"),
  /** One model with its parts. */
  model: named("model"),
  /** What is probably wrong about a model. */
  modelFindings: named("model-findings"),
  /** The materials that a model came with. */
  modelMaterials: named("model-materials"),
  /** How parts of a model lie on their map, in numbers. */
  uvFigures: named("uv-figures"),
  /** The list of models. */
  models: named("models"),
  /** Models that came with a delivery. */
  deliveredModels: named("delivered-models"),
  /** The studio's naming rules. */
  namingRules: named("naming-rules"),
  /** The same as one text. */
  namingText: named("naming-text"),
  /** What such a text would change. */
  namingTried: named("naming-tried"),
  /** The schema of profiles. */
  profileSchema: named("profile-schema"),
  /** What is wrong in a profile, and which looks it changes. */
  profileChecked: named("profile-checked"),
  /** Words that are known without a rule. */
  namingWords: named("naming-words"),
  /** A look's network for one renderer. */
  network: named("network"),
  /** People. */
  people: named("people"),
  /** Pictures that came with a delivery. */
  previews: named("previews"),
  /** Renderers' profiles. */
  profiles: named("profiles"),
  /** Pictures that were ordered. */
  proofFiles: named("proof-files"),
  /** Numbers of the proof under the pointer. */
  proofReadout: named("proof-readout"),
  /** Numbers of a map under the pointer. */
  readout: named("readout"),
  /** What replacing a map would change. */
  replacement: named("replacement"),
  /** A collection's rules. */
  rules: named("rules"),
  /** Every rule there is, and where a collection's looks stand. */
  ruleFields: named("rule-fields"),
  /** What rules would say. */
  rulesTried: named("rules-tried"),
  /** Folders of the server. */
  serverFolders: named("server-folders"),
  /** Who is signed in. */
  session: named("session"),
  /** Open sessions. */
  sessions: named("sessions"),
  /** Sheets of a collection. */
  sheets: named("sheets"),
  /** Numbers of a step under the pointer. */
  stepNumbers: named("step-numbers"),
  /** The table of steps. */
  steps: named("steps"),
  /** Inputs, roles, renderers, spaces, lights and shapes. */
  studio: named("studio"),
  /** What collections say of a look's trims. */
  trims: named("trims"),
  /** A file name read by the rules. */
  tryName: named("try-name"),
  /** Rules that variants break. */
  variantRules: named("variant-rules"),
  /** A look's variants as a table. */
  variants: named("variants"),
  /** What has changed since a version. */
  versionChanges: named("version-changes"),
  /** How far a version is from the bench. */
  versionDifference: named("version-difference"),
  /** The versions of a look. */
  versions: named("versions"),
};
