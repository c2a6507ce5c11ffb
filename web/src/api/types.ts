/** Names for the generated schema's types. */
import type { components } from "./schema";

type S = components["schemas"];
export type Session = S["SessionInfo"];
export type House = S["HouseInfo"];
export type NeutralInput = S["NeutralInput"];
export type MapRole = S["MapRole"];
export type Reading = S["Reading"];
export type MapFile = S["MapFile"];
export type PlacedMap = S["PlacedMap"];
export type MapSet = S["MapSet"];
export type Delivery = S["DeliveryInfo"];
export type IntakeResult = NonNullable<Delivery["result"]>;
export type LookInfo = S["LookInfo"];
export type LookListing = S["LookListing"];
export type Look = S["Look"];
export type Lane = S["Lane"];
export type Chain = S["Chain"];
export type Step = Chain["steps"][number];
export type Placement = S["Placement"];
export type LookEdit = Record<string, unknown> & { edit: string };
export type Board = S["BoardInfo"];
export type Finding = S["FindingInfo"];
export type Version = S["VersionRow"];
export type History = S["HistoryRow"];
export type CollectionInfo = S["CollectionRow"];
export type ConversionReport = S["ConversionReport"];
