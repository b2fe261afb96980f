<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Tests\Core\Sounds;

/** From a recording to pads: what a maker does in Gather and Chop. */
final class SamplingTest extends ChopCase
{
    /** What works beside the pages is listed; what is called off ends at once, and what comes after it is done. */
    public function testWhatIsAtWorkIsListedAndCalledOff(): void
    {
        $this->newBeat();
        $folder = Sounds::folder();
        $long = $folder.'/Ten minutes of hum.wav';
        $file = new WavWriter($long, 22050, SampleFormat::Int16);
        $second = new StereoBlock($hum = Sounds::sine(110.0, 22050, 22050.0), $hum);
        for ($i = 0; $i < 700; ++$i) {
            $file->write($second);
        }
        $file->close();
        $this->element('#files')->sendKeys($long);
        $this->wait("document.querySelector('.job')?.textContent.includes('Listening to Ten minutes of hum')");
        $this->click('pestle-jobs button');
        $this->wait("document.querySelector('#job-list').matches(':popover-open') && document.querySelector('.job progress')");
        self::assertSame('1 at work', $this->text('pestle-jobs button'));
        $this->click('[aria-label="Cancel Listening to Ten minutes of hum"]');
        $this->wait("document.querySelector('#job-list').textContent.includes('Nothing is at work') && document.querySelector('#job-list').matches(':popover-open')");
        $this->wait("document.querySelector('#samples').textContent.includes('Ten minutes of hum') && !document.querySelector('[data-listening]')");
        $file = new WavWriter($folder.'/Afterwards.wav', 44100, SampleFormat::Int16);
        $file->write(Sounds::hit(3, 9000));
        $file->close();
        $this->element('#files')->sendKeys($folder.'/Afterwards.wav');
        $this->wait("document.querySelector('.sample-title')?.value === 'Afterwards' && !document.querySelector('[data-listening]')");
        $this->assertNoErrors();
    }

    /** A recording is taken apart; its parts are heard while it is, switched, one of them turned round, all laid into the song. */
    public function testASongIsTakenApart(): void
    {
        $this->newBeat();
        $this->element('#files')->sendKeys(self::loopFile(96.0, 3));
        $this->wait("document.querySelector('.sample-title')?.value === 'lantern loop' && !document.querySelector('[data-listening]')");
        $this->clickText('Chop it');
        $this->wait(self::WAVE);
        $this->clickText('Apart');
        $apart = "document.querySelector('pestle-apart')";
        $this->wait("$apart && document.querySelector('#apart-said').textContent.includes('Not taken apart yet')");
        $this->click('[data-apart=begin]');
        // Given up after the first of its pieces, or the second; what is done is heard.
        $this->wait("Number($apart.dataset.done) > 0 || document.querySelector('#apart-said').textContent.includes('0:1')");
        $this->click('[data-apart=hear]');
        $this->wait("$apart.heard.levels?.join() === '1,1,1,1' && $apart.heard.frame > 20000");
        $this->click('[data-apart-part=drums]');
        $this->wait("$apart.heard.levels?.[0] < 0.01 && $apart.heard.levels[1] === 1");
        $this->click('[data-apart=hear]');
        $this->wait("$apart.heard.frame === null && document.querySelector('[data-apart=hear]').textContent === 'Hear'");
        $this->wait("$apart.dataset.state === 'done'");
        self::assertFalse($this->script("return document.querySelector('[data-apart-part=drums]').checked"), 'It stays as it was switched.');
        $this->script("$apart.focus()");
        $this->keys('1');
        $this->wait("document.querySelector('[data-apart-part=drums]').checked");
        self::assertMatchesRegularExpression('/How sure: drums (high|middling)/', $this->text('.column'));

        // Only the voice, in a room; and the old converter on the drums.
        $this->click('[data-only-voice]');
        $this->wait("document.querySelector('[data-only-voice]').getAttribute('aria-pressed') === 'true' && Object.values($apart.heard.on).join() === 'false,false,false,true'");
        $this->click('[aria-label="Old converter on drums"]');
        $this->wait(self::UNDO.".includes('Old converter')");
        $this->wait("JSON.parse($apart.dataset.treated).drums.includes('converter')");

        $this->clickText('All four into the song');
        $this->wait("location.search.includes('view=song') && document.querySelectorAll('[data-clip]').length === 4");
        self::assertSame(['Drums', 'Bass', 'Melody', 'Voice'], $this->script("return [...document.querySelectorAll('[data-clip]')].map((clip) => clip.textContent.trim())"));
        $this->wait(self::UNDO.".includes('4 parts laid onto the line')");

        // One of them is chopped like any other recording, and turned round.
        $this->script('history.go(-1)');
        $this->wait("$apart");
        $this->click('.apart-part a');
        $this->wait(self::WAVE.' && '."document.querySelector('h1').textContent === 'lantern loop, drums'");
        $this->clickText('Edits 2');
        $this->click('[data-edit=reverse]');
        $this->wait(self::UNDO.".includes('Reverse')");
        $this->assertNoErrors();
    }

    public function testARecordingIsTrimmedFadedTappedAndPlayed(): void
    {
        $this->newBeat();
        $this->click('[data-mic-arm]');
        $this->wait("!document.querySelector('.mic-armed').hidden");
        // The simulated microphone beeps; its level is seen before anything is recorded.
        $this->wait("parseFloat(document.querySelector('#mic-state').textContent.replace('peak ', '')) > -40");
        $this->script("document.querySelector('[name=take-name]').value = 'Stall voice'");
        $this->set('[name=colour]', 'converter');
        $this->click('[data-mic-record]');
        $this->wait("document.querySelector('#mic-state').textContent.startsWith('recording 3.')");
        $this->click('[data-mic-record]');
        $this->wait("document.querySelector('.sample-title')?.value === 'Stall voice'");
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
        $this->wait("document.querySelector('#cut-snaps')");
        $this->set('#cut-snaps', '');
        $this->script(self::WAVE.'.focus()');
        $this->keys('t');
        // It goes round, so that it plays on however slow the machine is; a tap while nothing plays starts it.
        $this->click('[data-wave=round]');
        $markers = fn (): int => \count((array) json_decode($this->attribute('markers'), true));
        for ($taps = 0; $taps < 40 && 0 === $markers(); ++$taps) {
            usleep(250_000);
            $this->keys('t');
        }
        $this->wait(self::SAVED);
        // Taps that come faster than the server answers are all kept, where they were struck: nothing snaps.
        $count = $markers() + 4;
        $this->script('for (let i = 0; i < 4; ++i) { '.self::WAVE.".dispatchEvent(new KeyboardEvent('keydown', { key: 't', bubbles: true })); await new Promise((r) => setTimeout(r, 40)); }");
        $this->wait('JSON.parse('.self::WAVE.".dataset.markers).length === $count && ".self::SAVED);
        self::assertSame('', $this->value('#cut-snaps'));
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

    public function testALoopIsFittedToTheBeatAndExchanged(): void
    {
        $this->newBeat();
        $this->set('#bpm', '125');
        $this->wait(self::UNDO.".includes('Tempo')");
        $this->set('#edge select[name=key]', 'D minor');
        $this->wait(self::UNDO.".includes('Key')");
        $this->element('#files')->sendKeys(self::loopFile(100.0));
        $this->wait("document.querySelector('.sample-title')?.value === 'lantern loop'");
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
        $this->wait("document.querySelector('.fit .btn')");
        $this->click('[data-wave=whole]');
        $this->script(self::WAVE.'.focus()');
        $this->keys(WebDriverKeys::ESCAPE);
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
        // It follows the tempo from now on: two bars, whatever that becomes.
        $this->script("[...document.querySelectorAll('.fit .btn')].find((b) => b.textContent === 'Follow the tempo').click()");
        $this->wait(self::WAVE.".dataset.frames === '".round(2 * 240 / 125 * 44100)."'");
        $this->set('#bpm', '100');
        $this->wait(self::WAVE.".dataset.frames === '".(2 * 2.4 * 44100)."'");
        self::assertStringContainsString('Follows the tempo already', $this->text('main'));
        // On pads, then another loop in its place: the same hits, as long, in time.
        $this->clickText('Slices');
        $this->wait("document.querySelector('#parts')");
        $this->set('#parts', '4');
        $this->click('[data-slice-equal]');
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 4');
        $this->clickText('To pads');
        $this->wait("location.pathname.endsWith('/pattern')");
        $hits = "JSON.stringify(await rows('hits'))";
        $before = $this->script("return $hits");
        $lantern = $this->text('#pad-a0 .name');
        $this->clickText('Chop');
        $this->wait(self::WAVE);
        $this->clickText('Fit');
        $this->wait("document.querySelector('[data-exchange]')");
        $this->script("const s = document.querySelector('[data-exchange]'); s.value = [...s.options].find((o) => o.textContent === 'Old piano loop').value; s.dispatchEvent(new Event('change', {bubbles: true}))");
        self::assertStringContainsString('cut to length', $this->text('#exchange-words'));
        $this->click('[data-exchange-now]');
        $this->wait("document.querySelector('#notice').textContent.includes('Old piano loop in place of lantern loop')", 20);
        self::assertSame((int) (4.8 * 44100), (int) $this->attribute('frames'));
        self::assertSame([0, 52920, 105840, 158760], json_decode($this->attribute('markers'), true));
        $this->clickText('Pattern');
        $this->wait("document.querySelector('pestle-lanes')");
        self::assertSame($before, $this->script("return $hits"));
        self::assertSame(str_replace('lantern loop', 'Old piano loop', $lantern), $this->text('#pad-a0 .name'));
        $this->assertNoErrors();
    }

    /** More than a minute is listened to in the background; the offer comes when that is done. */
    public function testALongRecordingOffersItsTempoWhenItWasListenedTo(): void
    {
        $this->newBeat();
        $this->element('#files')->sendKeys(self::loopFile(100.0, 14));
        $this->wait("document.querySelector('#notice').textContent.includes('is in the library')");
        $this->wait("document.querySelector('#notice').textContent.includes('was listened to. It sounds like a loop at 100 BPM')");
        $this->clickText('Set the beat to 100 BPM');
        $this->wait("document.querySelector('#bpm').value === '100.00'");
        $this->assertNoErrors();
    }

    /** Ticked one by one, in a row and all; tagged, put onto pads, taken out; each is one step back. */
    public function testManySoundsAreWorkedWithAtOnce(): void
    {
        $this->open('/beats/1/gather?sort=text');
        $this->wait("document.querySelectorAll('#samples [data-tick]').length >= 9");
        self::assertFalse($this->element('#many')->isDisplayed());
        $count = self::whole($this->script("return Number(document.querySelector('#samples').dataset.count)"));
        $tick = fn (int $row, string $with = '{}') => $this->script("document.querySelectorAll('#samples [data-tick]')[$row].dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true, ...$with }))");
        $tick(1);
        $tick(4, '{ shiftKey: true }');
        self::assertSame('4 chosen', $this->text('#many output'));
        $tick(2);
        self::assertSame('3 chosen', $this->text('#many output'));
        // The choice outlasts what is done with it.
        $this->script("document.querySelector('#many-tag').value = 'Market'");
        $this->click('[data-many=add]');
        $this->wait("document.querySelector('#notice').textContent.includes('3 sounds more are tagged market.') && document.querySelector('[data-undo]').textContent.includes('Tag market (3 sounds)')");
        self::assertSame('3 chosen', $this->text('#many output'));
        $this->set('[data-finds] [name=search]', 'market');
        $this->script("document.querySelector('[data-finds] [name=search]').dispatchEvent(new Event('input', { bubbles: true }))");
        $this->wait("document.querySelectorAll('#samples [data-tick]').length === 3 && document.querySelectorAll('#samples [data-tick]:checked').length === 3 && document.querySelector('[data-tick-all]').checked");
        $this->script("document.querySelector('[data-undo]').click()");
        $this->wait("document.querySelector('#samples').textContent.includes('No sound of the library is like that')");
        $this->script("document.querySelector('[data-redo]').click()");
        $this->wait("document.querySelectorAll('#samples [data-tick]').length === 3");
        $this->click('[data-many=take]');
        $this->wait("document.querySelector('#samples').textContent.includes('No sound of the library is like that')");
        $this->script("const f = document.querySelector('[data-finds] [name=search]'); f.value = ''; f.dispatchEvent(new Event('input', { bubbles: true }))");
        $this->wait("Number(document.querySelector('#samples').dataset.count) === $count");
        // Onto the free pads, and taken back.
        $pads = self::whole($this->script("return document.querySelectorAll('.pad[data-pad]').length"));
        $this->click('[data-many=pads]');
        $this->wait("document.querySelectorAll('.pad[data-pad]').length === ".($pads + 3));
        $this->undo(1);
        $this->wait("document.querySelectorAll('.pad[data-pad]').length === $pads");
        // All that are found by a key; what the beat uses stays.
        $this->script("document.querySelector('#samples [data-tick]').focus()");
        $this->keys(WebDriverKeys::CONTROL.'a');
        $this->wait("document.querySelector('#many output').textContent === '$count chosen' && document.querySelector('[data-many=all]').hidden");
        $this->click('[data-many=gone]');
        $this->wait("/stays?: beats or kits use/.test(document.querySelector('#notice').textContent)");
        $this->wait("document.querySelector('#many').hidden");
        self::assertLessThanOrEqual($count, self::whole($this->script("return Number(document.querySelector('#samples').dataset.count)")));
        if (str_contains($this->text('[data-undo]'), 'Take out')) {
            $this->script("document.querySelector('[data-undo]').click()");
        }
        $this->wait("Number(document.querySelector('#samples').dataset.count) === $count");
        $tick(0);
        $this->script("document.querySelector('#samples [data-tick]').focus()");
        $this->keys(WebDriverKeys::ESCAPE);
        $this->wait("document.querySelector('#many').hidden && !document.querySelector('[data-tick]:checked')");
        $this->assertNoErrors();
    }

    public function testTheLibraryIsSearchedAndSorted(): void
    {
        $this->open('/beats/1/gather');
        $this->wait("document.querySelectorAll('#samples tbody tr').length >= 9");
        $shown = "[...document.querySelectorAll('#samples .sample-name')].map((n) => n.textContent)";
        $shows = fn (string ...$names) => $this->wait("JSON.stringify($shown) === '".json_encode($names)."'");
        $filter = fn (string $name, string $value) => $this->script("const f = document.querySelector('[data-finds] [name=$name]'); f.value = '$value'; f.dispatchEvent(new Event('input', {bubbles: true}))");
        $filter('search', 'piano');
        $shows('Old piano loop');
        // What is looked for stays, whatever is done with it.
        $this->script("[...document.querySelectorAll('#samples tr')].find((r) => r.textContent.includes('Old piano')).querySelector('.star').click()");
        $this->wait("document.querySelector('.star[aria-pressed=true]')");
        $shows('Old piano loop');
        $this->script("[...document.querySelectorAll('#samples tr')].find((r) => r.textContent.includes('Old piano')).querySelector('.star').click()");
        $this->wait("!document.querySelector('.star[aria-pressed=true]')");
        $filter('search', '');
        $this->wait("document.querySelectorAll('#samples tbody tr').length >= 9");
        $filter('role', 'kick');
        $shows('Mortar low');
        $filter('role', '');
        $this->wait("document.querySelectorAll('#samples tbody tr').length >= 9");
        $filter('from', '80');
        $this->wait("location.search.includes('from=80')");
        $filter('to', '90');
        $shows('Old piano loop');
        $filter('from', '');
        $this->wait("!location.search.includes('from=80')");
        $filter('to', '');
        $this->wait("document.querySelectorAll('#samples tbody tr').length >= 9");
        $this->click('[data-sort=seconds]');
        $this->wait("document.querySelector('th[aria-sort=ascending] [data-sort=seconds]')");
        $this->click('[data-sort=seconds]');
        $this->wait("document.querySelector('th[aria-sort=descending] [data-sort=seconds]')");
        $seconds = $this->script("return [...document.querySelectorAll('#samples tbody tr')].map((row) => Number(row.dataset.seconds))");
        self::assertIsArray($seconds);
        $sorted = $seconds;
        rsort($sorted);
        self::assertSame($sorted, $seconds, 'the longest first');
        $this->click('[data-sort=added]');
        $this->wait("document.querySelector('th[aria-sort] [data-sort=added]')");
        $this->script("[...document.querySelectorAll('#samples tr')].find((r) => r.textContent.includes('Low jar')).querySelector('.star').click()");
        $this->wait("document.querySelector('.star[aria-pressed=true]')");
        $filter('mark', 'favourite');
        $shows('Low jar');
        $filter('mark', '');
        $this->wait("document.querySelectorAll('#samples tbody tr').length >= 9");
        // Down the list by arrow keys, hearing each.
        $this->script("document.querySelector('#samples [data-audition]').focus()");
        $this->keys(WebDriverKeys::ARROW_DOWN);
        $this->wait("document.activeElement === document.querySelectorAll('#samples [data-audition]')[1]");
        $this->click('[data-resample-now]');
        $this->wait("document.querySelector('.sample-title')?.value === 'First'");
        $this->wait("document.querySelector('[data-clear]')");
        $this->click('[data-clear]');
        self::assertStringContainsString('Take away', $this->text('[data-clear]'));
        $this->click('[data-clear]');
        $this->wait("document.querySelector('#notice').textContent.includes('out of the library')");
        $this->wait("!$shown.includes('First')");
        $this->clickText('Bring them back');
        $this->wait("document.querySelector('#samples').textContent.includes('First')");
        $this->assertNoErrors();
    }

    public function testAWholeFolderComesInWithItsNamesAsTags(): void
    {
        $this->newBeat();
        $folder = Sounds::folder().'/Rain, Crates';
        mkdir($folder.'/Kicks/Deep', recursive: true);
        for ($i = 0; $i < 22; ++$i) {
            $writer = new WavWriter($folder.'/Kicks/'.(0 === $i ? 'Deep/' : '')."Knock $i.wav", 44100, SampleFormat::Int16);
            $writer->write(Sounds::hit(900 + $i, 3000));
            $writer->close();
        }
        file_put_contents($folder.'/Kicks/torn.wav', 'no sound');
        file_put_contents($folder.'/words.txt', 'not for ears');
        // From any screen: it goes to where they can be seen coming.
        $this->clickText('Mix');
        $this->wait("location.pathname.endsWith('/mix')");
        $this->dropFolder($folder);
        $this->wait("location.pathname.endsWith('/gather')");
        $this->wait("document.querySelector('#notice').textContent.includes('22 sounds are new in the library; 1 was refused (torn.wav: this is not a WAV file')");
        self::assertStringContainsString('1 file of other kinds left out', $this->text('#notice'));
        $this->element('[name=search]')->sendKeys('deep');
        $this->wait("document.querySelector('#shown').textContent === '1 found'");
        $this->click('.sample-name');
        $this->wait("document.querySelector('#f-tags')?.value === 'rain crates, kicks, deep'");
        // What one of many is gets heard afterwards; the page shows it by itself.
        $this->wait("document.querySelector('#f-role')");
        // The same again: all is there.
        $this->dropFolder($folder.'/Kicks');
        $this->wait("document.querySelector('#notice').textContent.includes('0 sounds are new in the library; 22 were there already')");
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
        $this->keys(WebDriverKeys::ARROW_LEFT);
        self::assertSame('3 6 1', $this->script("return $taken"));
        $this->script("document.querySelectorAll('#arranged .chip')[0].focus()");
        $this->keys(WebDriverKeys::DELETE);
        self::assertSame('6 1', $this->script("return $taken"));
        self::assertStringContainsString('2 slices', $this->text('#arranged-length'));
        $this->click('[data-arranged=play]');
        $this->wait("document.querySelector('#arranged .chip[data-playing]')");
        $this->click('[data-arranged=send]');
        $this->wait("location.pathname.endsWith('/pattern')");
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Old piano loop rearranged')");
        self::assertSame(2, $this->script("return (await rows('hits')).length"));
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
        $this->keys(WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT);
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
        $this->keys(WebDriverKeys::END, WebDriverKeys::END, 'x');
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 9');
        self::assertStringContainsString('Slice markers', $this->text('[data-undo]'));
        $this->keys(WebDriverKeys::DELETE);
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 8');
        $this->keys('z', WebDriverKeys::ARROW_UP, WebDriverKeys::ARROW_DOWN);
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
        $this->keys(WebDriverKeys::ESCAPE);
        self::assertNull($this->script('return '.self::WAVE.'.selection'));
        $this->undo(1);
        self::assertSame((int) $this->attribute('sourceFrames'), (int) $this->attribute('frames'), 'the cut is undone');
        $this->undo(2);
        $this->wait('JSON.parse('.self::WAVE.'.dataset.markers).length === 8');
        $this->assertNoErrors();
    }

    public function testALongEditTellsHowFarItIs(): void
    {
        $this->newBeat();
        $this->element('#files')->sendKeys(self::loopFile(100.0, 6));
        $this->wait("document.querySelector('.sample-title')?.value === 'lantern loop'");
        $this->clickText('Chop it');
        $this->wait(self::WAVE);
        $this->clickText('Edits');
        $this->wait("document.querySelector('[data-edit=pitch]')");
        $this->click('[data-edit=pitch]');
        $this->wait('Number('.self::WAVE.'.dataset.progress) > 0');
        $this->wait(self::WAVE.".dataset.progress === ''");
        self::assertStringContainsString('Pitch', $this->text('.edits li:first-child'));
        $this->undo(1);
        $this->wait("document.querySelectorAll('.edits li').length === 0");
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
}
