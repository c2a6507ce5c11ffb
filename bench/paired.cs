#:property PublishAot=false
// Two builds of bench/slice.cs in one process, slice by slice in turn, so that a machine that is now quick and now slow is so for both.
// Arguments: folder of the build before, folder of the build now. Run by bench/paired.sh.
using System.Diagnostics;
using System.Reflection;
using System.Runtime.Loader;

const int Warm = 100,
    Pairs = 300;
foreach (var form in new[] { "sphere", "vessel", "tile" })
{
    Action before = Slice(args[0], form),
        now = Slice(args[1], form);
    for (var i = 0; i < Warm; i++)
    {
        before();
        now();
    }
    var ratios = new double[Pairs];
    for (var i = 0; i < Pairs; i++)
    {
        // Who comes second finds the caches of the other: by turns.
        double a,
            b;
        if (i % 2 == 0)
            (a, b) = (Seconds(before), Seconds(now));
        else
            (b, a) = (Seconds(now), Seconds(before));
        ratios[i] = a / b;
    }
    Array.Sort(ratios);
    Console.WriteLine(
        $"{form}: speed now / before, median of {Pairs} pairs {ratios[Pairs / 2]:0.000}, quartiles {ratios[Pairs / 4]:0.000} to "
            + $"{ratios[3 * Pairs / 4]:0.000}"
    );
}

static double Seconds(Action slice)
{
    var clock = Stopwatch.StartNew();
    slice();
    return clock.Elapsed.TotalSeconds;
}

static Action Slice(string folder, string form)
{
    folder = Path.GetFullPath(folder);
    var context = new Beside(Path.Combine(folder, "slice.dll"));
    var made = context.LoadFromAssemblyPath(Path.Combine(folder, "slice.dll")).GetType("ProofSlice")!.GetMethod("Of")!;
    return (Action)made.Invoke(null, [form, Path.Combine(folder, "profiles")])!;
}

internal sealed class Beside(string main) : AssemblyLoadContext
{
    private readonly AssemblyDependencyResolver files = new(main);

    protected override Assembly? Load(AssemblyName name) =>
        files.ResolveAssemblyToPath(name) is { } path ? LoadFromAssemblyPath(path) : null;

    protected override IntPtr LoadUnmanagedDll(string name) =>
        files.ResolveUnmanagedDllToPath(name) is { } path ? LoadUnmanagedDllFromPath(path) : IntPtr.Zero;
}
