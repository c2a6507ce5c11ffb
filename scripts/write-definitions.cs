#:project ../src/Kiln.Exchange/Kiln.Exchange.csproj
#:property PublishAot=false
// Makes profiles/*_defs.mtlx anew from the profiles, and the schema of profiles from the records that read them: dotnet run scripts/write-definitions.cs
using Kiln.Dialects.Profiles;
using Kiln.Exchange.MaterialX;

var folder = DialectProfiles.ShippedFolder(args.Length > 0 ? args[0] : Directory.GetCurrentDirectory());
foreach (var profile in DialectProfiles.Load(folder).All)
    if (NodeDefinitions.Write(profile) is { } definitions)
        File.WriteAllBytes(Path.Combine(folder, profile.Id + "_defs.mtlx"), definitions);
File.WriteAllText(Path.Combine(folder, "profile.schema.json"), ProfileSchema.Text());
