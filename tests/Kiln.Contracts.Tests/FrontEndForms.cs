using Kiln.Looks.Document;

namespace Kiln.Contracts.Tests;

/// <summary>What the front end has from the core, generated: it cannot drift from it.</summary>
public sealed class FrontEndForms
{
    [Fact]
    public void LaneAddressesHaveTheFormOfTheCore() =>
        GoldenFile.HoldsAt(
            Path.Combine(Repository.Root, "web", "src", "api", "laneAddressForm.ts"),
            $$"""
            // The form of lane addresses, generated from the core (LaneAddress.Form) by Kiln.Contracts.Tests with KILN_RENEW_GOLDEN=1.
            export const laneAddressForm = new RegExp(
              "{{LaneAddress.Form.Replace("(?<sides>", "\" +\n    \"(?<sides>", StringComparison.Ordinal)}}",
            );

            """
        );
}
