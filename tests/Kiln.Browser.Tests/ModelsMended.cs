using OpenQA.Selenium;

namespace Kiln.Browser.Tests;

/// <summary>A model that came with dead paths and faults, mended in few gestures, which are counted.</summary>
public sealed class ModelsMended(ServerFixture server, Browser browser) : IClassFixture<ServerFixture>, IClassFixture<Browser>
{
    private int gestures;

    private void Click(string place)
    {
        browser.Find(place).Click();
        gestures++;
    }

    private void Has(string part, string look) =>
        browser.Until(
            d => d.FindElements(By.CssSelector($"[data-part='{part}'][data-look='{look}']")).FirstOrDefault(),
            30,
            $"{look} on {part}"
        );

    private void Open(string model)
    {
        browser.SignIn(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/models");
        browser.Find($"[data-model={model}]").Click();
        gestures = 0;
    }

    /// <summary>All of a file's dead paths: two gestures, and what was found is seen between them. One Undo for all.</summary>
    [Fact]
    public void AllTexturesAreRelinkedInTwoGestures()
    {
        Open("fr2_subsets");
        Has("knob", "");
        Has("tuning_window", "");
        Click("[data-value=materials]");
        browser.Until(d => browser.Test("materials-found").Text.Contains("10 proposed") ? d : null, 30, "what was found");
        Assert.Equal(10, browser.Driver.FindElements(By.CssSelector("[data-texture] img")).Count);
        Click("[data-testid=make-looks]");
        Has("knob", "knurledSteel");
        Has("tuning_window", "amber");
        Assert.Equal(2, gestures);
        // Looks that lay on parts already stay.
        Has("body", "anodised body");
        var made = browser.Until(d => d.FindElements(By.LinkText("amber was made of it")).FirstOrDefault(), 30, "what was made");
        var look = made.GetAttribute("href")!;
        browser.Until(d => d.FindElements(By.XPath("//button[.='Undo']")).FirstOrDefault(b => b.Enabled), 30, "Undo").Click();
        Has("knob", "");
        Has("tuning_window", "");
        // The look that was made stays, and is opened by its link.
        browser.Driver.Navigate().GoToUrl(look);
        browser.Until(
            d => d.FindElements(By.CssSelector("main h1, main h2")).FirstOrDefault(h => h.Text.Contains("amber")),
            30,
            "the bench"
        );
    }

    /// <summary>A finding about a look leads to it.</summary>
    [Fact]
    public void AFindingOpensTheLookThatItIsAbout()
    {
        Open("fr2");
        Has("body", "anodised body");
        browser.Find("[data-testid=model-findings-line]").Click();
        browser.Find("[data-finding='udim.missing'] a").Click();
        browser.Until(d => d.Url.Contains("/looks/") ? d : null, 30, "the bench");
        browser.Until(
            d => d.FindElements(By.CssSelector("main h1, main h2")).FirstOrDefault(h => h.Text.Contains("anodised body")),
            30,
            "the look"
        );
    }

    /// <summary>A mirrored pipe: its finding is opened and mended; then it is gone, and comes back with Undo. By keyboard.</summary>
    [Fact]
    public void AMirroredPartIsMendedFromItsFinding()
    {
        Open("organ_pipes");
        Has("pipe_3", "verdigris copper pipe");
        browser.Find("[data-testid=model-findings-line]").SendKeys(Keys.Enter);
        browser.Find("[data-finding='uvs.flipped'] [data-testid=model-finding-fix]").SendKeys(Keys.Enter);
        bool IsTold() => browser.Driver.FindElements(By.CssSelector("[data-finding='uvs.flipped']")).Count > 0;
        browser.Until(d => IsTold() ? null : d, 30, "nothing mirrored any more");
        browser.Until(
            d => d.FindElements(By.CssSelector("[data-part=pipe_3]")).FirstOrDefault(e => e.Text.Contains("flipped along U")),
            30,
            "the flip at its part"
        );
        browser.Until(d => d.FindElements(By.XPath("//button[.='Undo']")).FirstOrDefault(b => b.Enabled), 30, "Undo").SendKeys(Keys.Enter);
        browser.Until(d => IsTold() ? d : null, 30, "the finding again");
        // A click on a finding selects what it is about.
        browser.Find("[data-finding='uvs.flipped'] button").Click();
        Assert.Equal("true", browser.Find("[data-part=pipe_3] [role=checkbox]").GetAttribute("aria-checked"));
        Assert.Equal("false", browser.Find("[data-part=pipe_1] [role=checkbox]").GetAttribute("aria-checked"));
    }
}
