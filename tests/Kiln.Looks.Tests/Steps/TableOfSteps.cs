using System.Text.Json;
using System.Text.Json.Nodes;
using Kiln.Looks.Document;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Tests.Steps;

/// <summary>What the table says of a step holds of its record and of its document.</summary>
public class TableOfSteps
{
    public static TheoryData<string> Kinds => [.. StepTable.All.Select(e => e.Name)];

    private static StepEntry Entry(string kind) => StepTable.All.Single(e => e.Name == kind);

    private static JsonObject Document(Step step) => (JsonObject)JsonSerializer.SerializeToNode(step, LookJson.Options)!;

    private static Look With(Step step) =>
        new Look { Name = "steps" } is var look
            ? look with
            {
                Lanes = look.Lanes.Add("coat_weight", new(Chain: new(new ConstantOrigin(LookValue.Of(0.5f)), [step with { Id = "s1" }]))),
            }
            : throw new InvalidOperationException();

    [Fact]
    public void EveryRecordOfAStepIsInTheTableUnderANameAndALabelOfItsOwn()
    {
        var records = typeof(Step).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(Step))).ToHashSet();
        Assert.Equal(records, StepTable.All.Select(e => e.Type).ToHashSet());
        Assert.Equal(StepTable.All.Length, StepTable.All.DistinctBy(e => e.Name).Count());
        Assert.Equal(StepTable.All.Length, StepTable.All.DistinctBy(e => e.Label).Count());
        Assert.Equal(StepTable.All.Length, StepTable.All.DistinctBy(e => e.Order).Count());
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void ANewOneIsAStepThatCanBeKeptAndComesBack(string kind)
    {
        var fresh = Entry(kind).New;
        var look = With(fresh);
        Assert.Equal(look.Lanes["coat_weight"], LookJson.Read(LookJson.WriteChecked(look)).Lanes["coat_weight"]);
        Assert.Equal(kind, (string?)Document(fresh)["kind"]);
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void ItsFieldsAndInputsAreThoseOfItsDocument(string kind)
    {
        var entry = Entry(kind);
        var whole = new JsonSerializerOptions(LookJson.Options)
        {
            TypeInfoResolver = new System.Text.Json.Serialization.Metadata.DefaultJsonTypeInfoResolver
            {
                Modifiers =
                {
                    StepTable.Kinds,
                    info =>
                    {
                        foreach (var property in info.Properties)
                            property.ShouldSerialize = (_, _) => true;
                    },
                },
            },
        };
        var document = (JsonObject)JsonSerializer.SerializeToNode(entry.New, whole)!;
        var own = document.Select(p => p.Key).Except(["kind", "id", "bypassed", "entry"]).ToHashSet();
        Assert.Equal(own, entry.Fields.Select(f => f.Name).Concat(entry.Sides.Select(s => s.Name)).ToHashSet());
        foreach (var field in entry.Fields)
        {
            if (field.Kind == StepFieldKind.Number)
                Assert.True(
                    field.Low < field.High && (float)document[field.Name]! >= field.Low && (float)document[field.Name]! <= field.High
                );
            if (field.Kind == StepFieldKind.Choice)
                Assert.Contains((string?)document[field.Name], field.Options!.Value.Select(o => o.Id));
        }
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void WhatIsConnectedToAnInputIsFoundThereAgain(string kind)
    {
        var entry = Entry(kind);
        var lane = new Lane(LookValue.Of(0.25f), new(new SourceOrigin("dirt")));
        foreach (var side in entry.Sides)
        {
            var step = side.With(entry.New, lane);
            Assert.Equal(lane.Chain, side.Get(step).Chain);
            Assert.All(entry.Sides.Where(s => s != side), s => Assert.Equal(s.Get(entry.New), s.Get(step)));
        }
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void WhatItsTileTellsIsInItsDocument(string kind)
    {
        var document = Document(Entry(kind).New);
        foreach (
            System.Text.RegularExpressions.Match told in System.Text.RegularExpressions.Regex.Matches(Entry(kind).Tells, @"\{([\w.]+)\}")
        )
        {
            JsonNode? at = document;
            foreach (var name in told.Groups[1].Value.Split('.'))
                at = at![name];
            Assert.NotNull(at);
        }
    }
}
