#:project ../src/Kiln.Store/Kiln.Store.csproj
#:property PublishAot=false
// dotnet run bench/plans.cs -c Release -- CONNECTION: how the database goes about finding looks, in its own words, on whatever studio is
// there (bench/studio.py makes a large one).
using Kiln.Store;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

await using var database = new Database(args[0]);
var looks = new LookListRepository(database);
var collection = (await new CollectionRepository(database).ListAsync()).OrderByDescending(c => c.Looks).First().Id;
foreach (
    var (words, query) in new (string, LookQuery)[]
    {
        ("search by words", new(Words: "wall 77", Most: 100)),
        ("by tag and role", new(Tag: "batch 7", Role: "height", Most: 100)),
        ("first page", new(Most: 100)),
        ("of a collection", new(Collection: collection)),
    }
)
    Console.WriteLine($"### {words}\n```\n{await looks.PlanAsync(query)}\n```\n");
