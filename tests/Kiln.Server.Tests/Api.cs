using System.Net.Http.Json;
using System.Text.Json;

namespace Kiln.Server.Tests;

/// <summary>What the tests say to the server over and over.</summary>
internal static class Api
{
    public static async Task<JsonElement> JsonAsync(HttpResponseMessage response) =>
        await response.Content.ReadFromJsonAsync<JsonElement>();

    /// <summary>The answer, which must be one of success.</summary>
    public static async Task<JsonElement> DoneAsync(HttpResponseMessage response)
    {
        Assert.True(response.IsSuccessStatusCode, await response.Content.ReadAsStringAsync());
        return await JsonAsync(response);
    }

    public static Task<JsonElement> GetAsync(HttpClient client, string path) => client.GetFromJsonAsync<JsonElement>(path);

    public static async Task<string> NewDeliveryAsync(HttpClient client, string name) =>
        (await JsonAsync(await client.PostAsJsonAsync("deliveries", new { name }))).GetProperty("id").GetString()!;

    /// <summary>The delivery once its analysis has ended, one way or another.</summary>
    public static async Task<JsonElement> DoneAsync(HttpClient client, string id)
    {
        for (var i = 0; i < 2400; i++)
        {
            var delivery = await GetAsync(client, $"deliveries/{id}");
            if (delivery.GetProperty("state").GetString() is "ready" or "failed" or "cancelled")
                return delivery;
            await Task.Delay(150);
        }
        throw new TimeoutException("The delivery was not analysed.");
    }

    public static async Task<JsonElement> LookAsync(HttpClient client, string name = "verdigris copper pipe")
    {
        var looks = await GetAsync(client, "looks");
        var id = looks.EnumerateArray().First(l => l.GetProperty("name").GetString() == name).GetProperty("id").GetString();
        return await GetAsync(client, $"looks/{id}");
    }

    public static async Task<HttpResponseMessage> EditAsync(HttpClient client, string id, int revision, object edit, string what = "edits")
    {
        var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{id}/{what}") { Content = JsonContent.Create(edit) };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
        return await client.SendAsync(request);
    }
}
