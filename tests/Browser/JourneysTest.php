<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\Remote\LocalFileDetector;
use Facebook\WebDriver\WebDriverKeys;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Sounds;

/** Whole journeys through the pages, in a real browser against a whole Pestle. */
final class JourneysTest extends PageCase
{
    public function testANewcomersFirstMinute(): void
    {
        $this->open('/');
        $this->click('.beat-row a');
        $this->wait("document.querySelector('pestle-lanes')");
        $this->wait('(await player()).loop');
        self::assertSame('−∞', $this->text('#peak'));
        $this->keys(' ');
        $this->wait("document.querySelector('[data-start-stop]').getAttribute('aria-pressed') === 'true'");
        $this->wait("parseFloat(document.querySelector('#peak').textContent.replace('−', '-')) > -6");
        $this->wait("document.querySelector('#position').textContent !== '1.1.1'");

        $this->keys('q');
        $this->wait("document.querySelector('#pad-a0 .glow').style.height !== ''");
        $this->element('#pad-a0')->click();
        self::assertTrue($this->script('return (await player()).playing'), 'a pad that is struck by pointer leaves what plays alone');
        self::assertStringStartsWith('Mortar low', (string) $this->element('#pad-a0')->getAttribute('aria-label'));

        $before = $this->script('return (await player()).loop.render');
        self::assertIsString($before);
        $this->clickStep(0, 2);
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Place Mortar low')");
        $this->wait("(await player()).loop.render !== '$before'");
        self::assertTrue($this->script('return (await player()).playing'), 'it plays on');

        $this->keys(WebDriverKeys::CONTROL.'z');
        $this->wait("document.querySelector('[data-redo]').title.includes('Place Mortar low')");
        $this->wait("(await player()).loop.render === '$before'");
        $this->keys(' ');
        $this->wait('!(await player()).playing');

        // Another tempo while it plays: it goes on at its place.
        $this->keys(' ');
        $this->wait('(await player()).playing');
        $frames = $this->script('return (await player()).loop.frames');
        $this->set('#bpm', '120');
        $this->wait('(await player()).loop.frames === 352800');
        self::assertTrue($this->script('return (await player()).playing && (await player()).ticks() < (await player()).loop.ticks'));
        self::assertGreaterThan(352800, $frames);
        $this->undo(1);
        $this->keys(' ');

        // The song from its start, and another section that is not there yet: both are heard at once.
        $this->click('input[name=play-what][value=song]');
        $this->click('.choice[href*="section=s5"]');
        $this->keys(' ');
        $this->wait("document.querySelector('.choice[data-song-place=\"e1\"][data-playing]')");
        // A change made meanwhile is heard from the next piece on: what was fetched ahead of it is fetched anew.
        $asked = "performance.getEntriesByType('resource').map((e) => new URL(e.name)).filter((u) => u.pathname.endsWith('/piece')).map((u) => Number(u.searchParams.get('from')))";
        $this->wait("Math.max(...$asked) >= 32");
        $this->clickStep(0, 2);
        $this->wait("(await player()).songHead === JSON.parse(document.querySelector('#app').dataset.page).head");
        $this->wait("((a) => a.some((from, i) => from < Math.max(...a.slice(0, i))))($asked)");
        self::assertTrue($this->script('return (await player()).playing'));
        $this->keys(' ');
        $this->undo(1);
        $this->assertNoErrors();
    }

    public function testALongPatternIsHeardAtOnceAndGoesRound(): void
    {
        $this->open('/beats/1/pattern?section=s3');
        $this->set('input[name=bars]', '16');
        $this->wait('(await player()).loop?.long && (await player()).loop.ticks === 16 * 3840');
        $this->keys(' ');
        $this->wait("parseFloat(document.querySelector('#peak').textContent.replace('−', '-')) > -12");
        $this->wait('(await player()).ticks((await import("/build/js/audio/context.js")).audio().currentTime) > 2000');
        // A change is heard where it plays, and the whole is never fetched.
        $head = 'JSON.parse(document.querySelector("#app").dataset.page).head';
        $was = $this->script("performance.clearResourceTimings(); return $head");
        self::assertIsInt($was);
        $this->clickStep(0, 2);
        $this->wait("$head > $was && (await player()).songHead === $head");
        self::assertLessThan(4_000_000, $this->script("return Math.max(...performance.getEntriesByType('resource').filter((e) => /loop|piece/.test(e.name)).map((e) => e.decodedBodySize))"));
        // Shorter again it is one loop again, at its place.
        $this->set('input[name=bars]', '4');
        $this->wait('!(await player()).loop.long && (await player()).loop.ticks === 4 * 3840');
        $this->wait("parseFloat(document.querySelector('#peak').textContent.replace('−', '-')) > -12");
        self::assertTrue($this->script('return (await player()).playing && (await player()).songHead === null'));
        $this->keys(' ');
        $this->wait('!(await player()).playing');
        $this->undo(3);
        $this->assertNoErrors();
    }

    public function testOwnRecordingToDeliveredStems(): void
    {
        [$path, $loop] = $this->drumLoop();
        $this->open('/');
        $this->click('.list-page .btn.main');
        $this->wait("location.pathname.endsWith('/gather')");
        $this->element('#files')->setFileDetector(new LocalFileDetector())->sendKeys($path);
        $this->wait("document.querySelector('#notice').textContent.includes('It sounds like a loop at 96 BPM')");
        $this->script("[...document.querySelectorAll('#notice button')].find((b) => b.textContent.startsWith('Set the beat')).click()");
        $this->wait("document.querySelector('#bpm').value === '96.00'");
        $this->clickText('Chop it');
        $this->wait("document.querySelector('[data-slice-hits]')");
        $this->click('[data-slice-hits]');
        $this->wait("JSON.parse(document.querySelector('pestle-wave').dataset.markers).length === 16");
        $this->clickText('To pads');
        $this->wait("document.querySelectorAll('.pad[data-pad]').length === 16 && document.querySelector('pestle-lanes')");
        self::assertSame(16, $this->script("return (await rows('hits')).length"));

        // A change of its own: the last slice is struck once more, and turned down in the mix.
        $this->keys(' ');
        $this->wait('(await player()).playing');
        $this->click('[data-workspace=deliver]');
        $this->wait("document.querySelector('#deliver-form')");
        self::assertTrue($this->script('return (await player()).playing'), 'the beat goes on while pages change');
        $this->script("document.querySelector('select[name=what]').value = 'p2'; document.querySelector('input[name=stems][value=pad]').click(); document.querySelector('input[name=format][value=\"24\"]').click()");
        self::assertStringContainsString('01 own loop 1 - 96 BPM.wav', $this->text('[data-stem-names=pad]'));
        $this->click('#deliver-form .btn.main');
        $this->wait("document.querySelector('.delivery[data-state=done]')");
        self::assertStringContainsString('The 16 stems add up to the mix exactly.', $this->text('.delivery'));
        $this->keys(' ');

        $archive = glob(self::$pestle->data.'/deliveries/*/*.zip') ?: [];
        self::assertCount(1, $archive);
        $this->compareDelivery($archive[0], $loop);
        $this->assertNoErrors();
    }

    public function testTwoWindowsOnOneBeat(): void
    {
        $this->open('/beats/1/pattern');
        $other = Chrome::start();
        try {
            $other->get(self::$pestle->address.'/beats/1/pattern');
            $this->wait("document.querySelector('pestle-lanes')");
            usleep(500_000);
            // A hit here and one there, each on the page as it was before the other: both pages end with both.
            $place = static fn (int $tick, string $pad): string => "const { pattern } = document.querySelector('pestle-lanes').dataset; return (await import('/build/js/changes.js')).change({ type: 'edit-hits', pattern, hits: [[$tick, '$pad', 90]] })";
            self::assertTrue($this->script($place(333, 'a2')));
            self::assertTrue($this->script($place(555, 'a3'), $other));
            $both = "(await rows('hits')).filter((h) => [333, 555].includes(h[0])).length === 2";
            $this->waitIn($other, $both);
            self::assertTrue($this->script($place(777, 'a2')));
            $this->wait($both);
            // The same hit taken here and made louder there, which does not know of it.
            self::assertTrue($this->script("const { pattern } = document.querySelector('pestle-lanes').dataset; return (await import('/build/js/changes.js')).change({ type: 'edit-hits', pattern, gesture: 'remove', take: [[333, 'a2'], [555, 'a3'], [777, 'a2']] })"));
            self::assertFalse($this->script("const { pattern } = document.querySelector('pestle-lanes').dataset; return (await import('/build/js/changes.js')).change({ type: 'edit-hits', pattern, gesture: 'velocity', hits: [[333, 'a2', 50]] })", $other));
            $this->waitIn($other, "document.querySelector('#notice').textContent.includes('Remove')");
            $other->executeScript("[...document.querySelectorAll('#notice button')].find((b) => b.textContent === 'See the newest').click()");
            $this->waitIn($other, "(await rows('hits'))?.some((h) => h[0] === 333) === false");
            $this->chrome->navigate()->refresh();
            $this->wait("document.querySelector('pestle-lanes')");
            $this->set('#bpm', '87');
            $this->wait("document.querySelector('[data-undo]').textContent.includes('Tempo 87')");
            // Elsewhere something else is changed: both changes stand.
            $other->executeScript("const n = document.querySelector('input[type=number][name=swing]'); n.value = 60; n.dispatchEvent(new Event('change', {bubbles: true}))");
            $this->waitIn($other, "document.querySelector('#bpm').value === '87.00' && document.querySelector('input[type=number][name=swing]').value === '60.0'");
            // Here the same thing as there: refused with a choice.
            $other->executeScript("const n = document.querySelector('input[type=number][name=swing]'); n.value = 65; n.dispatchEvent(new Event('change', {bubbles: true}))");
            $this->waitIn($other, "document.querySelector('[data-undo]').textContent.includes('Swing 65')");
            $this->set('input[type=number][name=swing]', '52');
            $this->wait("document.querySelector('#notice').textContent.includes('Swing 65')");
            $this->script("[...document.querySelectorAll('#notice button')].find((b) => b.textContent === 'Do it on the newest').click()");
            $this->wait("document.querySelector('[data-undo]').textContent.includes('Swing 52')");
        } finally {
            $other->quit();
        }
        $this->set('#bpm', '86');
        $this->wait("document.querySelector('#bpm').value === '86.00'");
        $this->set('input[type=number][name=swing]', '58');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Swing 58')");
        $this->assertNoErrors(['409']);
    }

    public function testAllOfItByKeyboard(): void
    {
        $this->open('/beats/1/pattern');
        $this->wait("document.querySelector('pestle-lanes')");
        $this->script("document.querySelector('pestle-lanes').focus()");
        $this->keys(WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT, 'x');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Place Mortar low')");
        $this->keys(WebDriverKeys::SHIFT.WebDriverKeys::ARROW_UP.WebDriverKeys::NULL);
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Velocity of Mortar low')");
        self::assertContains([480, 'a0', 108, 240, 100], (array) $this->script("return (await rows('hits'))"));
        $this->keys('x');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Remove Mortar low')");
        foreach (range(1, 3) as $_) {
            $this->keys(WebDriverKeys::CONTROL.'z'.WebDriverKeys::NULL);
            usleep(250_000);
        }

        // Workspaces by number, banks by comma and full stop, sliders by arrows, help by question mark.
        foreach (['gather', 'chop', 'kit', 'pattern', 'sound', 'arrange', 'mix', 'deliver'] as $i => $workspace) {
            $this->keys((string) ($i + 1));
            $this->wait("location.pathname.endsWith('/$workspace') && document.querySelector('main.$workspace, main.$workspace-work')");
        }
        $this->clickText('+ bank');
        $this->wait("document.querySelectorAll('.banks a').length === 2");
        $this->keys('.');
        $this->wait("document.querySelector('.banks [aria-current]').textContent === 'Bank 2'");
        $this->keys(',');
        $this->wait("document.querySelector('.banks [aria-current]').textContent === 'Stall'");
        $this->keys(WebDriverKeys::CONTROL.'z'.WebDriverKeys::NULL);
        $this->wait("document.querySelectorAll('.banks a').length === 1");
        $this->keys('2');
        $this->wait("document.querySelector('pestle-wave')");
        $this->script("document.querySelector('pestle-wave').focus()");
        $this->keys(WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT, WebDriverKeys::END, 'x');
        $this->wait("JSON.parse(document.querySelector('pestle-wave').dataset.markers).length === 9");
        $this->keys(WebDriverKeys::CONTROL.'z'.WebDriverKeys::NULL);
        $this->wait("JSON.parse(document.querySelector('pestle-wave').dataset.markers).length === 8");
        $this->keys('7');
        $this->wait("document.querySelector('main.mix .fader-range')");
        $this->script("document.querySelector('.fader-range').focus()");
        $this->keys(WebDriverKeys::ARROW_LEFT);
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Level of Mortar low')");
        $this->keys(WebDriverKeys::CONTROL.'z'.WebDriverKeys::NULL);
        $this->wait("document.querySelector('[data-redo]').title.includes('Level of Mortar low')");
        $this->keys('?');
        $this->wait("document.querySelector('#keys').open");
        $this->keys(WebDriverKeys::ESCAPE);
        $this->wait("!document.querySelector('#keys').open");
        $this->assertNoErrors();
    }

    public function testPadsPlayedLiveAreRecorded(): void
    {
        $this->open('/beats/1/pattern?section=s4');
        $this->wait('(await player()).loop?.section === "s4"');
        $hits = "(await rows('hits'))";
        $before = $this->script("return $hits.length");
        self::assertIsInt($before);
        $this->keys(' ');
        $this->wait('(await player()).ticks() > 100');
        $this->click('[data-record]');
        $this->keys('q', 'w');
        usleep(200_000);
        $this->click('[data-record]');
        $this->wait("$hits.length === ".($before + 2));
        $this->keys(' ');
        self::assertSame([], array_filter((array) $this->script("return $hits.map((h) => h[0] % 240).filter((t) => t !== 0)")), 'brought onto the steps');
        self::assertStringContainsString('Recorded 2 hits', $this->text('[data-undo]'));
        $this->click('[data-undo]');
        $this->wait("$hits.length === $before");
        $this->assertNoErrors();
    }

    /** What is held over the end of the loop keeps its length, and goes to the pattern it was played over. */
    public function testANoteHeldOverTheLoopsEndKeepsItsLengthAndItsPattern(): void
    {
        $this->open('/beats/1/pattern');
        $this->clickText('New section');
        $this->wait("document.querySelector('.choice[aria-current]').textContent.includes('Turn')");
        $this->clickText('New pattern');
        $hits = "(await rows('hits'))";
        $this->wait("$hits?.length === 0");
        $this->wait('(await player()).loop?.ticks === 7680');
        $this->keys(' ');
        $this->wait('(await player()).ticks() > 100');
        $this->click('[data-record]');
        // Held from shortly before its end until after it.
        $this->wait('(await player()).ticks() > 6700', 15);
        $this->script("(await import('/build/js/hands.js')).strikePad('a0', 100, 'journey')");
        $this->wait('(await player()).ticks() > 300 && (await player()).ticks() < 3000');
        $this->script("await (await import('/build/js/page.js')).goTo('/beats/1/pattern?section=s3')");
        $other = $this->script("return $hits.length");
        $this->script("(await import('/build/js/hands.js')).letGo('journey')");
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Recorded 1 hit')");
        $this->click('[data-record]');
        $this->keys(' ');
        self::assertSame($other, $this->script("return $hits.length"));
        $this->open('/beats/1/pattern?section=s7');
        $held = $this->script("return $hits.map((h) => [h[0] >= 6480, h[3] > 800])");
        self::assertSame([[true, true]], $held);
        $this->undo(3);
        $this->assertNoErrors();
    }

    /** The bass makes room for the kick, drums are sent to a return of their own, and all of it is delivered in files as the maker says. */
    public function testAKickMakesRoomAndAReturnIsDelivered(): void
    {
        $this->open('/beats/1/mix?channel=c9&insert=i2');
        $this->set('select[name=key]', 'c1');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Compressor of Low jar follows Mortar low')");
        self::assertStringContainsString('makes room for Mortar low', $this->text('[data-channel=c9] .route-said'));
        // What would go round in a circle is not offered, and refused with a sentence.
        self::assertFalse($this->script("return (await import('/build/js/changes.js')).change({ type: 'set-insert', node: 'c1', insert: 'i2', key: 'c9' })") && $this->script("return (await import('/build/js/changes.js')).change({ type: 'set', 'mixer/c1/inserts/i2/on': 1 })"));
        $this->wait("document.querySelector('#notice').textContent.includes('would go round in a circle')");
        $this->undo(1);
        $this->click('[data-channel=drums] .name');
        $this->wait("document.querySelector('[data-channel=drums][data-chosen]')");
        $this->clickText('Send to a new return');
        $this->wait("document.querySelector('.send') && document.querySelector('[data-channel=r2]')");
        $this->set('.send input[type=number]', '-6');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Send of Drums to Return 1')");
        $this->click('[data-channel=r2] .name');
        $this->wait("document.querySelector('[data-channel=r2][data-chosen]')");
        $this->putIn('Compressor');
        $this->wait("document.querySelectorAll('.stage').length === 1 && document.querySelector('input[name=thresholdDb]')");
        $this->putIn('EQ');
        $this->wait("document.querySelectorAll('.stage').length === 2 && document.querySelector('pestle-eq')");
        $this->click('[aria-label="Earlier on the way"]');
        $this->wait("document.querySelector('.stage').textContent.includes('EQ')");

        $this->click('[data-workspace=deliver]');
        $this->wait("document.querySelector('#deliver-form')");
        $this->script("document.querySelector('select[name=what]').value = 's2'; document.querySelector('input[name=stems][value=own]').click(); document.querySelector('input[name=format][value=\"24\"]').click(); document.querySelector('input[name=lowerDb]').value = 3");
        foreach (['c7' => 'Music', 'c8' => 'Music', 'c9' => 'Music', 'c10' => 'Music', 'c11' => 'Music', 'c12' => 'Music', 'r1' => 'Drums', 'r2' => 'Squeezed'] as $line => $name) {
            $this->set("[data-own=$line]", $name);
        }
        self::assertSame("01 Drums - 86 BPM - D minor.wav\n02 Music - 86 BPM - D minor.wav\n03 Squeezed - 86 BPM - D minor.wav", $this->text('[data-stem-names=own]'));
        $this->click('#deliver-form .btn.main');
        $this->wait("document.querySelector('.delivery[data-state=done]')", 90);
        self::assertStringContainsString('3 stems add up to the mix', $this->text('.delivery'));
        $this->click('[data-stem-names=own] input[value=Music]');
        $this->click('#deliver-form .btn.main');
        $this->wait("document.querySelectorAll('.delivery[data-state=done]').length === 2", 90);
        self::assertStringContainsString('Stems were left out', $this->text('.delivery'));
        self::assertSame(['01 Drums - 86 BPM - D minor.wav', '03 Squeezed - 86 BPM - D minor.wav'], $this->script("return document.querySelector('.delivery .files').textContent.match(/\\d\\d [A-Z][a-z]+ -[^]*?wav/g)"));
        $this->open('/beats/1/mix');
        $this->undo(5);
        $this->assertNoErrors(['422']);
    }

    /** Two bars of the song come as one stem alone, are heard in the page, dragged out of it, and are told from those of the beat a change later. */
    public function testBarsAreDeliveredHeardDraggedOutAndCompared(): void
    {
        $this->open('/beats/1/deliver');
        $this->set('select[name=what]', 'bars');
        $this->wait("!document.querySelector('#bars-choice').hidden && document.querySelector('input[name=loop][value=\"0\"]').disabled");
        $this->set('input[name=fromBar]', '9');
        $this->set('input[name=toBar]', '10');
        $this->click('[data-files=none]');
        $this->click('[data-stem-names=channel] input[value="Mortar low"]');
        $this->wait("document.querySelector('input[name=mix]').value === '0' && !document.querySelector('input[name=leave]').value.includes('Mortar low')");
        $this->click('#deliver-form .btn.main');
        $this->wait("document.querySelector('.delivery')?.matches('[data-state=done]') && document.querySelector('.delivery b').textContent.includes('bars 9 to 10')");
        self::assertSame(['01 Mortar low - 86 BPM - D minor.wav'], $this->script("return [...document.querySelector('.delivery').querySelectorAll('.files a')].map((a) => a.textContent)"));
        self::assertSame('audio/wav:01 Mortar low - 86 BPM - D minor.wav:', $this->script("const dataTransfer = new DataTransfer(); const link = document.querySelector('.delivery .files a'); link.dispatchEvent(new DragEvent('dragstart', { bubbles: true, dataTransfer })); return dataTransfer.getData('DownloadURL').replace(link.href, '')"));
        self::assertSame('MThd', $this->script("const link = document.querySelector('a[data-out$=\"Low jar.mid\"]'); return (await (await fetch(link.href)).text()).slice(0, 4)"));
        // It is heard, from where it is wanted; the beat itself makes way.
        $this->keys(' ');
        $this->wait('(await player()).playing');
        $this->click('[data-hear-file]');
        $this->wait("document.querySelector('[data-hear-file]').getAttribute('aria-pressed') === 'true' && !(await player()).playing");
        $this->wait("/of 0:05|of 0:06/.test(document.querySelector('pestle-hear [data-at]').textContent)");
        // Further than what is sent at once.
        $this->wait("Number(document.querySelector('pestle-hear input').value) > 0.7");
        $this->click('[data-hear-file]');
        $this->wait("document.querySelector('[data-hear-file]').getAttribute('aria-pressed') === 'false'");

        $this->open('/beats/1/mix?channel=c1');
        $this->set('[data-channel=c1] input[name=gainDb]', '-9');
        $this->wait("document.querySelector('#saved').textContent === 'Saved' && document.querySelector('[data-undo]').textContent.includes('Mortar low')");
        $this->click('[data-workspace=deliver]');
        $this->wait("document.querySelector('.delivery details')");
        $this->script("document.querySelectorAll('.delivery details')[1].querySelector('summary').click()");
        $this->wait("document.querySelector('.delivery').textContent.includes('Since then: ')");
        $this->clickText('Deliver it as it is today');
        $this->wait("document.querySelector('.delivery')?.matches('[data-state=done]') && document.querySelector('.delivery ~ .delivery b')?.textContent.includes('bars 9 to 10')");
        $this->script("document.querySelector('.delivery').querySelectorAll('details')[1].querySelector('summary').click()");
        $this->wait("/It has not changed since.*(softer|as loud)/s.test(document.querySelector('.delivery').textContent)");
        $this->undoAll();
        $this->assertNoErrors();
    }

    /** Chords step back while the kick plays, snare and hands stand in one room, and what was made for one line is laid on another. */
    public function testOneLineMakesWayOthersShareARoomAndAChainIsCopied(): void
    {
        $this->open('/beats/1/mix?channel=c6');
        $this->putIn('Ducker');
        $this->wait("document.querySelector('.stage[aria-current] b').textContent === 'Ducker'");
        self::assertStringContainsString('Choose what it listens to', $this->text('.full'));
        $this->set('.full select[name=key]', 'c1');
        $this->set('.full input[type=number][name=depthDb]', '24');
        $this->wait("document.querySelector('.stage[aria-current]').textContent.includes('back by 24 dB') && document.querySelector('[data-channel=c6] .route-said').textContent.includes('makes room for Mortar low')");
        // While both play it is told how far it steps back.
        $this->keys(' ');
        $this->wait("parseFloat(document.querySelector('.full [data-reduction]').textContent.replace('\u2212', '-')) < -6");
        $this->wait("Math.abs(document.querySelector('pestle-trace').lowest + 24) < 0.5");
        self::assertGreaterThan(1000, $this->script("const c = document.querySelector('pestle-trace canvas'); return c.getContext('2d').getImageData(0, 0, c.width, c.height).data.filter((v, i) => i % 4 === 3 && v > 200).length"));
        $this->keys(' ');

        $this->click('[data-channel=c2] .name');
        $this->wait("document.querySelector('[data-channel=c2][data-chosen]')");
        $this->clickText('Send to a new return');
        $this->wait("document.querySelector('.send') && document.querySelector('[data-channel=r2]')");
        $this->click('[data-channel=r2] .name');
        $this->wait("document.querySelector('[data-channel=r2][data-chosen]')");
        $this->putIn('Small room');
        $this->wait("document.querySelector('.stage[aria-current] b')?.textContent === 'Reverb' && document.querySelector('.stage[aria-current] svg path').getAttribute('d').length > 20");
        $this->click('[data-channel=c5] .name');
        $this->wait("document.querySelector('[data-channel=c5][data-chosen]')");
        $this->clickText('Send to Return 1');
        $this->wait("document.querySelector('.send')");

        $this->click('[data-channel=c3] .name');
        $this->wait("document.querySelector('[data-channel=c3][data-chosen]')");
        $this->putIn('Ladle ring');
        $this->wait("[...document.querySelectorAll('.stage b')].some((b) => b.textContent === 'Ducker')");
        self::assertStringContainsString('makes room for Mortar low', $this->text('[data-channel=c3] .route-said'));
        // How loud it is, and what to do about it.
        $this->wait("document.querySelector('#saved').textContent === 'Saved'");
        $this->click('[data-channel=master] .name');
        $this->wait("document.querySelector('[data-loudness-target]')");
        $this->set('[data-loudness-target]', '-20');
        $this->click('[data-measure]');
        $this->wait("/Loudness.*LUFS/.test(document.querySelector('[data-measured]').textContent) && document.querySelector('[data-measured] p.bar')");
        self::assertMatchesRegularExpression('/[−-]\d+\.\d LUFS/', $this->text('.measured'));
        $this->script("[...document.querySelectorAll('[data-measured] button')].find((b) => b.textContent.startsWith('Master −')).click()");
        $this->wait("document.querySelector('[data-measured]').textContent.includes('as it was before the last change')");
        self::assertStringContainsString('Master', $this->text('[data-undo]'));
        // Lines are found by name, left out while silent, and folded into their group.
        $shown = "[...document.querySelectorAll('.channel:not([hidden]) .name')].map((n) => n.textContent.trim())";
        $this->script("const f = document.querySelector('[data-mix-search]'); f.value = 'snare'; f.dispatchEvent(new Event('input', { bubbles: true }))");
        self::assertSame(['Tin snare'], $this->script("return $shown"));
        $this->script("const f = document.querySelector('[data-mix-search]'); f.value = ''; f.dispatchEvent(new Event('input', { bubbles: true }))");
        $this->click('[data-fold-group=drums]');
        self::assertNotContains('Tin snare', (array) $this->script("return $shown"));
        self::assertContains('Chords', (array) $this->script("return $shown"));
        $this->click('[data-fold-group=drums]');
        $this->click('[data-mix-sounding]');
        $this->wait("!{$shown}.includes('Hum')");
        self::assertContains('Chords', (array) $this->script("return $shown"));
        $this->undo(8);
        $this->assertNoErrors();
    }

    private function putIn(string $label): void
    {
        $this->click('.put-in summary');
        $this->script("[...document.querySelectorAll('.put-in .choice b, .put-in .btn.slim')].find((e) => e.textContent.trim() === '$label').click()");
    }

    public function testBadFilesAreToldByNameAndHarmNothing(): void
    {
        $path = Sounds::folder().'/holiday.wav';
        file_put_contents($path, "\x89PNG\r\n\x1a\n".str_repeat('x', 500));
        $this->open('/beats/1/gather');
        $rows = $this->script("return document.querySelectorAll('#samples tbody tr').length");
        $this->element('#files')->setFileDetector(new LocalFileDetector())->sendKeys($path);
        $this->wait("document.querySelector('#arrivals').textContent.includes('this is not a WAV file')", 20);
        self::assertStringContainsString('holiday.wav', $this->text('#arrivals'));
        self::assertSame($rows, $this->script("return document.querySelectorAll('#samples tbody tr').length"));
        $this->assertNoErrors();
    }

    /** @return array{string, list<float>} a file of two bars at 96 BPM with sixteen hits, and its left side */
    private function drumLoop(): array
    {
        $drums = new DrumVoices(44100);
        $sounds = [$drums->kick()->left, $drums->shaker()->left, $drums->snare()->left, $drums->shaker(5)->left];
        $frames = (int) round(2 * 240 / 96 * 44100);
        $mix = array_fill(0, $frames, 0.0);
        for ($i = 0; $i < 16; ++$i) {
            foreach ($sounds[$i % 4] as $n => $x) {
                $at = (int) round($i * $frames / 16) + $n;
                if ($at < $frames) {
                    $mix[$at] += 0.5 * $x * exp(-$n / 6000);
                }
            }
        }
        $mix = array_values($mix);
        $path = Sounds::folder().'/own loop.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        $writer->write(new StereoBlock($mix, $mix));
        $writer->close();

        return [$path, $mix];
    }

    /** @param list<float> $loop */
    private function compareDelivery(string $archive, array $loop): void
    {
        $folder = Sounds::folder();
        $zip = new \ZipArchive();
        self::assertTrue($zip->open($archive));
        $zip->extractTo($folder);
        $mixes = glob($folder.'/*mix*.wav') ?: [];
        $stems = array_diff(glob($folder.'/*.wav') ?: [], $mixes);
        self::assertCount(1, $mixes);
        self::assertCount(16, $stems);
        $mix = Sounds::whole(SoundFile::open($mixes[0]))->left;
        $sum = array_fill(0, \count($mix), 0.0);
        foreach ($stems as $stem) {
            foreach (Sounds::whole(SoundFile::open($stem))->left as $i => $x) {
                $sum[$i] += $x;
            }
        }
        self::assertTrue(array_values($sum) === $mix, 'the stems add up');
        // What was cut and laid out again is the recording: hits within a millisecond.
        $best = 0.0;
        for ($shift = -44; $shift <= 44; $shift += 2) {
            $ab = $aa = $bb = 0.0;
            foreach ($loop as $i => $x) {
                $y = $mix[$i + $shift] ?? 0.0;
                $ab += $x * $y;
                $aa += $x * $x;
                $bb += $y * $y;
            }
            $best = max($best, $ab / sqrt($aa * $bb));
        }
        self::assertGreaterThan(0.9, $best);
    }

    /** A beat is carried out as one file, and brought into a Pestle that has nothing yet; there it plays, and what is no archive is told. */
    public function testABeatIsCarriedIntoAnotherPestle(): void
    {
        $this->open('/beats/1/deliver');
        $this->click('a[data-packed]');
        $this->wait("document.querySelector('#notice').textContent.includes('is packed.')");
        $archive = Sounds::folder().'/Carried.beat.zip';
        file_put_contents($archive, (string) file_get_contents(self::$pestle->address.$this->element('a[data-packed]')->getAttribute('href')));
        $this->assertNoErrors();
        $other = new Pestle(false);
        try {
            $this->chrome->get($other->address.'/');
            $this->wait("document.querySelector('.list-page').textContent.includes('No beats yet')");
            $this->element('[data-carried-in]')->sendKeys($archive);
            $this->wait("document.querySelector('#notice').textContent.includes('came in with 10 samples; 0 were there already.') && document.querySelectorAll('.beat-row').length === 1");
            $this->click('[data-hear]');
            $this->wait("document.querySelector('.beat-row[data-playing] .head')?.getAttribute('visibility') === 'visible'");
            $this->click('[data-hear]');
            file_put_contents($archive, 'no archive');
            $this->element('[data-carried-in]')->sendKeys($archive);
            $this->wait("document.querySelector('#notice').textContent.includes('Carried.beat.zip is no zip archive that can be read.')");
            $this->assertNoErrors();
        } finally {
            $other->stop();
        }
    }
}
