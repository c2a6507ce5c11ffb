using Kiln.Faults;

namespace Kiln.Intake.Listing;

/// <summary>What a delivery may hold before anything of it is believed.</summary>
public sealed record DeliveryLimits(
    int Entries = 20_000,
    long TotalBytes = 64L << 30,
    long EntryBytes = 4L << 30,
    int CompressionRatio = 400,
    int PathLength = 400,
    int NestedArchives = 64
)
{
    public static readonly DeliveryLimits Default = new();
}

/// <summary>A delivery could not be read at all; the message is a sentence.</summary>
public sealed class DeliveryException(string message) : KilnException(FaultKind.Unusable, "delivery.invalid", message);
