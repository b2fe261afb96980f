<?php

namespace Pestle\Tests\Browser;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Sounds;

/** From a recording to pads: what a maker does in Gather and Chop. */
final class SamplingTest extends PageCase
{
    private const WAVE = "document.querySelector('pestle-wave')";
    private const UNDO = "document.querySelector('[data-undo]').textContent";

    public function testARecordingIsTrimmedFadedTappedAndPlayed(): void
    {
        $this->newBeat();
        $this->click('[data-mic-arm]');
        $this->wait("!document.querySelector('.mic-armed').hidden");
        // The simulated microphone beeps; its level is seen before anything is recorded.
        $this->wait("parseFloat(document.querySelector('#mic-state').textContent.replace('peak ', '')) > -40");
        $this->script("document.querySelector('[name=take-name]').value = 'Stall voice'");
        $this->script("const c = document.querySelector('[name=colour]'); c.value = 'converter'");
        $this->click('[data-mic-record]');
        $this->wait("document.querySelector('#mic-state').textContent.startsWith('recording 3.')");
        $this->click('[data-mic-record]');
        $this->wait("document.querySelector('.sample-title')?.value === 'Stall voice'", 30);
        $this->wait(self::UNDO.".includes('Old converter, 12 bit, 26 kHz')");
        $this->clickText('Chop it');
        $this->wait(self::WAVE);
        self::assertStringContainsString('"kind":"converter"', $this->attribute('edits'));
        // A fade on a selection, from the keyboard's typed places.
        $frames = (int) $this->attribute('frames');
        self::assertGreaterThan(44100, $frames);
        $this->clickText('Edits 2');
        $this->wait("document.querySelector('[data-edit=fade-in]')");
        $this->set('[data-selection=start]', '0');
        $this->set('[data-selection=end]', '0.5');
        self::assertSame([0, 22050], $this->script('return '.self::WAVE.'.selection'));
        $this->click('[data-edit=fade-in]');
        $this->wait("document.querySelectorAll('.edits li').length === 3");
        self::assertStringContainsString('Fade in, straight', $this->text('.edits'));
        // Off, on, and earlier: each is one change.
        $before = $this->attribute('edits');
        $this->click('.edits li:last-child .toggle');
        $this->wait("document.querySelector('.edits li:last-child[data-off]')");
        self::assertNotSame($before, $this->attribute('edits'));
        $this->click('.edits li:last-child .toggle');
        $this->wait("!document.querySelector('.edits li[data-off]')");
        $this->click('.edits li:last-child .btn.slim:not(.away)');
        $this->wait("document.querySelector('.edits li:nth-child(2)').textContent.includes('Fade in')");
        self::assertStringContainsString('Order of edits', $this->text('[data-undo]'));
        // Tapped while it plays.
        $this->clickText('Slices');
        $this->wait("document.querySelector('#tap-snaps')");
        $this->script("document.querySelector('#tap-snaps').checked = false");
        $this->script(self::WAVE.'.focus()');
        $this->keys('t');
        // A tap while nothing plays starts it; the machine may be slow to.
        $markers = fn (): int => \count((array) json_decode($this->attribute('markers'), true));
        for ($taps = 0; $taps < 40 && $markers() < 3; ++$taps) {
            usleep(250_000);
            $this->keys('t');
        }
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length >= 3');
        $count = $markers();
        $this->clickText('To pads');
        $this->wait("location.pathname.endsWith('/pattern')");
        $this->wait("document.querySelectorAll('.pad[data-pad]').length === $count");
        $this->keys('q');
        $this->wait("document.querySelector('#pad-a0[data-lit], #pad-a0')");
        $this->keys(' ');
        $this->wait('(await player()).playing && (await player()).loop?.left.some((x) => Math.abs(x) > 0.01)', 20);
        $this->keys(' ');
        $this->assertNoErrors();
    }

    public function testALoopIsFittedToTheBeatAndItsTempoCorrected(): void
    {
        $this->newBeat();
        $this->set('#bpm', '125');
        $this->wait(self::UNDO.".includes('Tempo')");
        $this->set('#edge select[name=key]', 'D minor');
        $this->wait(self::UNDO.".includes('Key')");
        $this->element('#files')->sendKeys(self::loopFile(100.0));
        $this->wait("document.querySelector('.sample-title')?.value === 'lantern loop'", 30);
        // What was heard is shown as a guess and can be corrected.
        self::assertEqualsWithDelta(100.0, (float) $this->value('#f-bpm'), 0.5);
        $this->set('#f-bpm', '50');
        $this->wait("document.querySelector('#notice').textContent.includes('Corrected')");
        $this->wait("document.querySelector('#f-bpm').value === '50'");
        $this->clickText('Undo');
        $this->wait("Math.abs(document.querySelector('#f-bpm').value - 100) < 0.5");
        $this->clickText('Chop it');
        $this->wait(self::WAVE);
        $this->clickText('Fit');
        $this->wait("document.querySelector('[data-say]')");
        $this->script("[...document.querySelectorAll('[data-say]')].find((b) => b.textContent === '×2').click()");
        $this->wait("Math.abs(document.querySelector('[data-fact=bpm]').value - 200) < 1");
        $this->clickText('As heard');
        $this->wait("Math.abs(document.querySelector('[data-fact=bpm]').value - 100) < 0.5");
        // The whole of it is two bars: tempo = 60 × beats ÷ seconds.
        $this->script("document.querySelector('#stretch-bars').value = 2");
        $this->click('[data-say-bars]');
        $this->wait("document.querySelector('[data-fact=bpm]').value === '100'");
        // The grid begins where the maker says, coarse and fine.
        $first = 'JSON.parse('.self::WAVE.'.dataset.beats)[0]';
        $this->set('[data-fact=downbeat]', '0.1');
        $this->wait("$first === 4410");
        $this->clickText('+10 ms');
        $this->wait("$first === 4851");
        $this->set('[data-selection=start]', '0.2');
        $this->click('[data-say-downbeat]');
        $this->wait("$first === 8820");
        $this->set('[data-fact=downbeat]', '0');
        $this->wait("$first === 0");
        $this->click('[data-wave=whole]');
        $this->script(self::WAVE.'.focus()');
        $this->keys(\Facebook\WebDriver\WebDriverKeys::ESCAPE);
        $long = (int) $this->attribute('frames');
        $this->script("[...document.querySelectorAll('.fit .btn')].find((b) => b.textContent === 'Tempo only').click()");
        $this->wait(self::WAVE.".dataset.frames !== '$long'", 20);
        self::assertEqualsWithDelta(2 * 240 / 125 * 44100, (int) $this->attribute('frames'), 2);
        $this->wait("document.querySelector('main').textContent.includes('Fits as it is: 125 BPM, 2 bars')");
        // With its edits and without: the same place, the other sound.
        $this->script(self::WAVE.'.focus()');
        $this->keys('b');
        $this->wait("document.querySelector('[data-wave=before]').getAttribute('aria-pressed') === 'true'");
        self::assertTrue($this->script('return '.self::WAVE.'.before'));
        $this->keys('b');
        $this->click('[data-undo]');
        $this->wait(self::WAVE.".dataset.frames === '$long'");
        $this->assertNoErrors();
    }

    public function testTheLibraryIsSearchedAndSorted(): void
    {
        $this->open('/beats/1/gather');
        $this->wait("document.querySelectorAll('#samples tbody tr').length >= 9");
        $shown = "[...document.querySelectorAll('#samples tbody tr:not([hidden]) .sample-name')].map((n) => n.textContent)";
        $filter = fn (string $name, string $value) => $this->script("const f = document.querySelector('[data-filters] [name=$name]'); f.value = '$value'; f.dispatchEvent(new Event('input', {bubbles: true}))");
        $filter('search', 'piano');
        self::assertSame(['Old piano loop'], $this->script("return $shown"));
        $filter('search', '');
        $filter('role', 'kick');
        self::assertSame(['Mortar low'], $this->script("return $shown"));
        $filter('role', '');
        $filter('from', '80');
        $filter('to', '90');
        self::assertSame(['Old piano loop'], $this->script("return $shown"));
        $filter('from', '');
        $filter('to', '');
        $this->script("[...document.querySelectorAll('#samples tr')].find((r) => r.textContent.includes('Low jar')).querySelector('.star').click()");
        $this->wait("document.querySelector('.star[aria-pressed=true]')");
        $filter('mark', 'favourite');
        self::assertSame(['Low jar'], $this->script("return $shown"));
        $filter('mark', '');
        // Down the list by arrow keys, hearing each.
        $this->script("document.querySelector('#samples [data-audition]').focus()");
        $this->keys(\Facebook\WebDriver\WebDriverKeys::ARROW_DOWN);
        $this->wait("document.activeElement === document.querySelectorAll('#samples [data-audition]')[1]");
        $this->click('[data-resample-now]');
        $this->wait("document.querySelector('.sample-title')?.value === 'Main'", 40);
        $this->wait("document.querySelector('[data-clear]')");
        $this->click('[data-clear]');
        self::assertStringContainsString('Take away', $this->text('[data-clear]'));
        $this->click('[data-clear]');
        $this->wait("document.querySelector('#notice').textContent.includes('out of the library')");
        self::assertNotContains('Main', (array) $this->script("return $shown"));
        $this->clickText('Bring them back');
        $this->wait("document.querySelector('#samples').textContent.includes('Main')");
        $this->assertNoErrors();
    }

    public function testSlicesAreRearrangedIntoAPattern(): void
    {
        $this->open('/beats/1/chop?tool=arrange');
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 8');
        foreach ([2, 0, 5] as $slice) {
            $this->click("[data-take-slice=\"$slice\"]");
        }
        $taken = "[...document.querySelectorAll('#arranged .chip')].map((c) => c.textContent).join(' ')";
        self::assertSame('3 1 6', $this->script("return $taken"));
        // A chip goes to another place by the arrow keys, and out by Delete.
        $this->script("document.querySelectorAll('#arranged .chip')[2].focus()");
        $this->keys(\Facebook\WebDriver\WebDriverKeys::ARROW_LEFT);
        self::assertSame('3 6 1', $this->script("return $taken"));
        $this->script("document.querySelectorAll('#arranged .chip')[0].focus()");
        $this->keys(\Facebook\WebDriver\WebDriverKeys::DELETE);
        self::assertSame('6 1', $this->script("return $taken"));
        self::assertStringContainsString('2 slices', $this->text('#arranged-length'));
        $this->click('[data-arranged=play]');
        $this->wait("document.querySelector('#arranged .chip[data-playing]')");
        $this->click('[data-arranged=send]');
        $this->wait("location.pathname.endsWith('/pattern')");
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Old piano loop rearranged')");
        self::assertSame(2, $this->script("return JSON.parse(document.querySelector('pestle-lanes').dataset.hits).length"));
        // A stretch of the loop, with its edits, becomes a sample of its own.
        $this->open('/beats/1/chop?tool=edits');
        $this->wait("document.querySelector('[data-lift]')");
        $this->set('[data-selection=end]', '1.5');
        $this->click('[data-lift]');
        $this->wait("document.querySelector('#notice').textContent.includes('Old piano loop lifted is in the library')", 20);
        $this->wait('document.querySelector("pestle-wave").dataset.frames === "66150"');
        $this->click('[data-undo]');
        $this->wait("!document.querySelector('[data-undo]').textContent.includes('rearranged')");
        $this->assertNoErrors();
    }

    /** Everything on the wave without a mouse: choose, hear, cut, zoom, compare, take back. */
    public function testChopByKeyboardAlone(): void
    {
        $this->open('/beats/1/chop?tool=edits');
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 8');
        $this->script(self::WAVE.'.focus()');
        $info = fn (): string => $this->text('#slice-info');
        $this->keys(\Facebook\WebDriver\WebDriverKeys::ARROW_RIGHT, \Facebook\WebDriver\WebDriverKeys::ARROW_RIGHT);
        self::assertSame('Slice 3 of 8', $info());
        $start = (float) $this->value('[data-selection=start]');
        self::assertGreaterThan(2.0, $start);
        // The numbers follow the unit that is chosen.
        $this->set('[data-selection=unit]', 'samples');
        self::assertEqualsWithDelta($start * 44100, (float) $this->value('[data-selection=start]'), 30);
        $this->set('[data-selection=unit]', 'beats');
        self::assertEqualsWithDelta($start * 86 / 60, (float) $this->value('[data-selection=start]'), 0.01);
        $this->script(self::WAVE.'.focus()');
        $this->keys('v');
        $this->keys(\Facebook\WebDriver\WebDriverKeys::END, \Facebook\WebDriver\WebDriverKeys::END, 'x');
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 9');
        self::assertStringContainsString('Slice markers', $this->text('[data-undo]'));
        $this->keys(\Facebook\WebDriver\WebDriverKeys::DELETE);
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 8');
        $this->keys('z', \Facebook\WebDriver\WebDriverKeys::ARROW_UP, \Facebook\WebDriver\WebDriverKeys::ARROW_DOWN);
        $this->keys('g');
        $this->wait("document.querySelector('[data-wave=round]').getAttribute('aria-pressed') === 'true'");
        $this->keys('g');
        $this->wait("document.querySelector('[data-wave=round]').getAttribute('aria-pressed') === 'false'");
        // A typed selection, an edit on it, and Escape to let the selection go.
        $this->set('[data-selection=unit]', 'seconds');
        $this->set('[data-selection=start]', '1');
        $this->set('[data-selection=length]', '0.25');
        self::assertSame([44100, 55125], $this->script('return '.self::WAVE.'.selection'));
        self::assertSame('Selection', $info());
        $this->click('[data-wave=snap]');
        $this->wait('Math.abs('.self::WAVE.'.selection[0] - 44100) < 442 && '.self::WAVE.'.selection[0] !== 44100');
        $this->click('[data-edit=cut]');
        $this->wait("document.querySelectorAll('.edits li').length === 1");
        $cut = (int) $this->attribute('frames');
        self::assertEqualsWithDelta((int) $this->attribute('sourceFrames') - 11025, $cut, 900);
        $this->script(self::WAVE.'.focus()');
        $this->keys(\Facebook\WebDriver\WebDriverKeys::ESCAPE);
        self::assertNull($this->script('return '.self::WAVE.'.selection'));
        foreach ([(int) $this->attribute('sourceFrames'), null, null] as $frames) {
            $head = $this->script('return JSON.parse(document.querySelector("#app").dataset.page).head');
            self::assertIsInt($head);
            $this->click('[data-undo]');
            $this->wait("JSON.parse(document.querySelector('#app').dataset.page).head > $head");
            self::assertTrue(null === $frames || $frames === (int) $this->attribute('frames'), 'the cut is undone');
        }
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 8');
        $this->assertNoErrors();
    }

    /** The same sample edited in two windows: the later edit is refused with a choice, and nothing is lost. */
    public function testTwoWindowsEditOneSample(): void
    {
        $this->newBeat();
        $this->click('#samples tbody tr:last-child .sample-name');
        $this->wait("document.querySelector('.sample-title')");
        $this->clickText('Chop it');
        $this->wait(self::WAVE);
        $this->clickText('Edits');
        $this->wait("document.querySelector('[data-edit=gain]')");
        $address = $this->chrome->getCurrentURL();
        $other = Chrome::start();
        try {
            $other->get($address);
            $this->waitIn($other, "document.querySelector('[data-edit=reverse]')");
            $this->script("document.querySelector('[data-edit=reverse]').click()", $other);
            $this->waitIn($other, "document.querySelectorAll('.edits li').length === 1");
        } finally {
            $other->quit();
        }
        $this->click('[data-edit=gain]');
        $this->wait("[...document.querySelectorAll('#notice button')].some((b) => b.textContent === 'See the newest')");
        self::assertSame(0, $this->script("return document.querySelectorAll('.edits li').length"));
        $this->chrome->navigate()->refresh();
        $this->wait("document.querySelectorAll('.edits li').length === 1");
        $this->click('[data-edit=gain]');
        $this->wait("document.querySelectorAll('.edits li').length === 2");
        self::assertStringContainsString('Reverse', $this->text('.edits li:first-child'));
        $this->assertNoErrors(['409']);
    }

    private function newBeat(): void
    {
        $this->open('/');
        $this->click('.list-page .btn.main');
        $this->wait("location.pathname.endsWith('/gather')");
    }

    private function attribute(string $name): string
    {
        $value = $this->script('return '.self::WAVE.".dataset.$name");

        return \is_string($value) ? $value : '';
    }

    private function value(string $selector): string
    {
        $value = $this->script("return document.querySelector('$selector').value");

        return \is_string($value) ? $value : '';
    }

    private static function loopFile(float $bpm): string
    {
        $kit = new DrumVoices(44100);
        $mix = array_fill(0, (int) round(2 * 240 / $bpm * 44100), 0.0);
        for ($i = 0; $i < 16; ++$i) {
            foreach ([$kit->kick(), $kit->shaker(), $kit->snare(), $kit->shaker()][$i % 4]->left as $n => $x) {
                $at = (int) round($i * 30 / $bpm * 44100) + $n;
                if (isset($mix[$at])) {
                    $mix[$at] += 0.5 * $x;
                }
            }
        }
        $path = Sounds::folder().'/lantern loop.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        $writer->write(new StereoBlock($mix, $mix));
        $writer->close();

        return $path;
    }
}
