return await Kiln.Server.KilnServer.RunAsync(args);

/// <summary>Named so that tests can start the server.</summary>
public partial class Program;
