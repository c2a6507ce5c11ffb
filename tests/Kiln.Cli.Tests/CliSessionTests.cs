using System.Reflection;
using System.Runtime.CompilerServices;
using Kiln.Analysis.Consistency;
using Kiln.Exchange;
using Kiln.Faults;
using Kiln.Pixels;
using Kiln.Store;

namespace Kiln.Cli.Tests;

/// <summary>What verbs work with: contents by hash, a folder that is gone afterwards, faults as one line and exit status 2.</summary>
[Collection("standard error")]
public sealed class CliSessionTests
{
    private static async Task<(int Status, string Error)> RunAsync(Func<CliSession, Task<int>> verb)
    {
        var (before, error) = (Console.Error, new StringWriter());
        Console.SetError(error);
        try
        {
            return (await CliSession.RunAsync(verb), error.ToString());
        }
        finally
        {
            Console.SetError(before);
        }
    }

    public static TheoryData<string> Faults =>
        [
            .. new[] { typeof(PictureException), typeof(ExchangeException), typeof(RuleException), typeof(MissingException) }
                .SelectMany(t => t.Assembly.GetTypes())
                .Concat(typeof(Kiln.Looks.Document.LookException).Assembly.GetTypes())
                .Concat(typeof(Kiln.Colour.Configs.ConfigException).Assembly.GetTypes())
                .Concat(typeof(Kiln.Dialects.Profiles.ProfileException).Assembly.GetTypes())
                .Concat(typeof(Kiln.Intake.Listing.DeliveryException).Assembly.GetTypes())
                .Where(t => t.IsSubclassOf(typeof(KilnException)))
                .Select(t => t.AssemblyQualifiedName!),
        ];

    /// <summary>Whichever part of the product refuses something, the command line says it in one line.</summary>
    [Theory]
    [MemberData(nameof(Faults))]
    public async Task EveryFaultIsOneLineAndStatus2(string type)
    {
        var fault = (KilnException)RuntimeHelpers.GetUninitializedObject(Type.GetType(type)!);
        typeof(Exception)
            .GetField("_message", BindingFlags.Instance | BindingFlags.NonPublic)!
            .SetValue(fault, "The first line\nand the second.");
        Assert.Equal((2, "kiln: The first line and the second.\n"), await RunAsync(_ => Task.FromException<int>(fault)));
    }

    [Fact]
    public async Task OurOwnFaultsAreNoSentences() =>
        await Assert.ThrowsAsync<NullReferenceException>(() => RunAsync(_ => Task.FromException<int>(new NullReferenceException())));

    [Fact]
    public async Task TheSameContentIsKeptOnceAndGoneAfterwards()
    {
        var staging = "";
        var (status, _) = await RunAsync(session =>
        {
            staging = session.Staging;
            var first = session.Put([1, 2, 3]);
            Assert.Equal(first, session.Put([1, 2, 3]));
            Assert.Equal([1, 2, 3], File.ReadAllBytes(session.PathOf(first)));
            Assert.Single(Directory.GetFiles(staging));
            Assert.True(session.Has(first));
            File.Delete(session.PathOf(first));
            Assert.False(session.Has(first));
            return Task.FromResult(0);
        });
        Assert.Equal(0, status);
        Assert.False(Directory.Exists(staging));
    }

    [Fact]
    public async Task AContentThatIsNowhereIsASentence() =>
        Assert.Equal(
            (2, "kiln: The content is gone.\n"),
            await RunAsync(session => Task.FromResult(session.PathOf(Hashes.Named("nowhere")).Length))
        );
}
