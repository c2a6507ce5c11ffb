// The form of lane addresses, generated from the core (LaneAddress.Form) by Kiln.Contracts.Tests with KILN_RENEW_GOLDEN=1.
export const laneAddressForm = new RegExp(
  "^(?:source:(?<source>[^:/]+)|cover:(?<layer>[0-9]{1,4}):(?:(?<mask>mask)(?![^/])|(?<laid>[^:/]+))|(?<input>[^:/]+))" +
    "(?<sides>(?:/[^/]+/[^/]+)*)$",
);
