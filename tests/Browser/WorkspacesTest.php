<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/** Every workspace's controls do what they say, with undo. */
final class WorkspacesTest extends PageCase
{
    public function testTheListOfBeats(): void
    {
        $this->open('/');
        $this->click('.list-page .btn.main');
        $this->wait("location.pathname.endsWith('/gather')");
        self::assertStringContainsString('Old piano loop', $this->text('#samples'), 'the library serves every beat');
        $this->set('.beat-name', 'Night bus');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Name of the beat')");
        $this->open('/');
        self::assertStringContainsString('Night bus', $this->text('.beat-row'));
        $this->script("document.querySelector('.rename').open = true; document.querySelector('.rename input').value = 'Late bus'; document.querySelector('.rename form').requestSubmit()");
        $this->wait("document.querySelector('.beat-row a').textContent === 'Late bus'");
        $this->clickText('Duplicate');
        $this->wait("document.querySelectorAll('.beat-row').length === 3");
        $this->clickText('Delete');
        $this->wait("document.querySelectorAll('.beat-row').length === 2");
        $this->clickText('Undo');
        $this->wait("document.querySelectorAll('.beat-row').length === 3");
        foreach ([2, 1] as $left) {
            $this->script("[...document.querySelectorAll('.beat-row')].find((r) => r.textContent.includes('bus')).querySelector('.btn.away').click()");
            $this->wait("document.querySelectorAll('.beat-row').length === $left");
        }
        $this->assertNoErrors();
    }

    public function testABeatIsHeardFromTheList(): void
    {
        $this->open('/');
        $row = static fn (string $name): string => "[...document.querySelectorAll('.beat-row')].find((r) => r.querySelector('a').textContent === '$name')";
        self::assertSame('1:40', $this->script("return {$row('Kettle Steam')}.querySelector('[data-time]').textContent"));
        $this->clickText('New beat');
        $this->wait("location.pathname.endsWith('/gather')");
        $title = $this->script("return document.querySelector('.beat-name').value");
        self::assertIsString($title);
        self::assertMatchesRegularExpression('/^[A-Z][a-z]+ [A-Z][a-z]+$/', $title, 'two words worth keeping');
        $this->open('/');
        // Space finds the one beat that can be heard; the line over its order moves, and stays where the sound is.
        $this->keys(' ');
        $this->wait("{$row('Kettle Steam')}.querySelector('[data-time]').textContent.startsWith('0:02 of')");
        self::assertEqualsWithDelta(256 * 2.5 / 100.4, $this->script("return Number({$row('Kettle Steam')}.querySelector('.head').getAttribute('x1'))"), 256 * 1.0 / 100.4);
        self::assertSame('true', $this->script("return {$row('Kettle Steam')}.querySelector('[data-hear]').getAttribute('aria-pressed')"));
        $this->keys(' ');
        $this->wait("{$row('Kettle Steam')}.querySelector('[data-time]').textContent === '1:40' && !document.querySelector('[data-playing]')");
        // An empty beat has no length, and says why it is silent.
        $this->keys(WebDriverKeys::ARROW_DOWN);
        self::assertSame($title, $this->script('return document.activeElement.textContent'));
        self::assertStringContainsString('empty', $this->text('.beat-row'));
        $this->keys(' ');
        $this->wait("document.querySelector('#notice').textContent === 'There is nothing to hear: no hits or notes in its song yet.'");
        $this->keys('?');
        $this->wait("document.querySelector('#keys').open && document.querySelector('#keys').textContent.includes('Choose a beat')");
        $this->keys(WebDriverKeys::ESCAPE, WebDriverKeys::ARROW_DOWN, WebDriverKeys::ENTER);
        $this->wait("location.pathname.endsWith('/beats/1/pattern')");
        $this->open('/');
        $this->script("{$row($title)}.querySelector('.btn.away').click()");
        $this->wait("document.querySelectorAll('.beat-row').length === 1");
        // One that goes while it plays stops with a sentence, and is not asked for again and again.
        $this->clickText('Duplicate');
        $this->wait("document.querySelectorAll('.beat-row').length === 2");
        $this->script("{$row('Kettle Steam copy')}.querySelector('[data-hear]').click()");
        $this->wait("{$row('Kettle Steam copy')}.querySelector('[data-time]').textContent.includes(' of ')");
        $this->script("fetch({$row('Kettle Steam copy')}.querySelector('.btn.away').form.getAttribute('hx-post'), { method: 'POST', headers: { 'X-Pestle-Token': document.querySelector('#app').dataset.token } })");
        $this->wait("document.querySelector('#notice').textContent.includes('This beat is not there.') && !document.querySelector('[data-playing]')");
        $this->assertNoErrors(['404']);
    }

    public function testThePadsSettings(): void
    {
        $this->open('/beats/1/kit?pad=a1');
        $this->wait("document.querySelector('main.kit input[name=name]').value === 'Tin snare'");
        $key = 'document.querySelector("#pad-a1").dataset.play';
        foreach ([
            ['input[type=number][name=tuneCents]', '-200', 'Tune of Tin snare'],
            ['input[type=number][name=levelDb]', '-3', 'Level of Tin snare'],
            ['main select[name=choke]', '4', 'Choke group of Tin snare'],
            ['main select[name=role]', 'clap', 'Role of Tin snare'],
        ] as [$control, $value, $label]) {
            $before = $this->script("return $key");
            self::assertIsString($before);
            $this->set($control, $value);
            $this->wait("document.querySelector('[data-undo]').textContent.includes('$label')");
            $this->wait("$key !== '$before'");
        }
        $this->click('input[name=mode][value=held]');
        $this->wait('JSON.parse(document.querySelector("#pad-a1").dataset.play).held');
        self::assertStringContainsString('choke 4', $this->text('section[aria-label="Pads of the bank"] .choice[aria-current]'));
        // A value out of range is refused with a sentence, and what was there stays.
        $this->set('input[type=number][name=levelDb]', '99');
        $this->wait("document.querySelector('#notice').textContent.includes('levelDb must be a number from -60 to 12.')");
        $this->wait("document.querySelector('input[type=number][name=levelDb]').value === '-3.0'");
        $this->click('[aria-label="What is set"] a:nth-child(2)');
        $this->wait("document.querySelector('input[type=number][name=start]')");
        $this->set('input[type=number][name=start]', '400');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Start of Tin snare')");
        $this->script("const on = (e, t, d) => e.dispatchEvent(new DragEvent(t, { bubbles: true, cancelable: true, dataTransfer: d })); const d = new DataTransfer(); on(document.querySelector('[data-pick=a1]'), 'dragstart', d); on(document.querySelector('[data-place=a11]'), 'drop', d)");
        $this->wait('document.querySelector("#pad-a11 .name")?.textContent === "Tin snare"');
        for ($i = 0; $i < 7; ++$i) {
            $label = $this->script("return document.querySelector('[data-undo]').textContent");
            self::assertIsString($label);
            $this->click('[data-undo]');
            $this->wait('document.querySelector("[data-undo]").textContent !== '.json_encode($label));
        }
        self::assertFalse($this->script('return JSON.parse(document.querySelector("#pad-a1").dataset.play).held'));
        $this->assertNoErrors(['422']);
    }

    public function testSeedsAreDrawnDraggedAndTakenAway(): void
    {
        // A new section with an empty pattern of two bars, not swung.
        $this->open('/beats/1/pattern');
        $this->clickText('New section');
        $this->wait("document.querySelector('.choice[aria-current]').textContent.includes('Turn')");
        $this->clickText('New pattern');
        $this->wait("(await rows('hits'))?.length === 0");
        $hits = "(await rows('hits')).filter((h) => h[1] === 'a0')";
        self::assertSame([], $this->script("return $hits"));
        // Painting along a lane is one change.
        $this->drag(0, 0.5, 0, 3.5);
        $this->wait("$hits.length === 4");
        self::assertSame([0, 240, 480, 720], $this->script("return $hits.map((h) => h[0])"));
        // Up is velocity, sideways is timing.
        $this->drag(0, 0.35, 0, 0.35, -20);
        $this->wait("({$hits})[0][2] > 110");
        $this->drag(0, 2.35, 0, 2.95);
        $this->wait("$hits.some((h) => h[0] > 500 && h[0] < 640)");
        self::assertStringContainsString('Move Mortar low', $this->text('[data-undo]'));
        self::assertStringContainsString('Mortar low, 1.1.', $this->text('#hit-name'));
        $this->script("const r = document.querySelector('#hit-chance'); r.value = 40; r.dispatchEvent(new Event('input', {bubbles: true})); r.dispatchEvent(new Event('change', {bubbles: true}))");
        $this->wait("$hits.some((h) => h[4] === 40)");
        $this->clickStep(0, 1);
        $this->wait("$hits.length === 3");
        $this->set('input[name=bars]', '3');
        $this->wait("document.querySelector('pestle-lanes').dataset.ticks === '11520'");
        $this->click('[data-copy-bar]');
        $this->wait("$hits.length === 9");
        // Drawn to the grid on top of what is written, which is shown beside; then written in.
        $this->set('input[type=number][name=swing]', '50');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Swing 50')");
        $this->click('.felt[href*="feel=grid"]');
        $this->wait("document.querySelector('input[type=number][name=quantise]')");
        $this->set('input[type=number][name=quantise]', '100');
        $this->wait("document.querySelector('.felt[aria-current]').textContent.includes('100 % to 1/16')");
        self::assertTrue($this->script("return $hits.some((h) => h[0] % 240 !== 0) && (await rows('felt')).every((f) => f[2] % 240 === 0)"));
        $this->clickText('Write in');
        $this->wait("$hits.every((h) => h[0] % 240 === 0) && document.querySelector('.felt[aria-current]').textContent.includes('as played')");
        for ($i = 0; $i < 10; ++$i) {
            $label = $this->script("return document.querySelector('[data-undo]').textContent");
            $this->click('[data-undo]');
            $this->wait('document.querySelector("[data-undo]").textContent !== '.json_encode($label));
        }
        self::assertSame([], $this->script("return $hits"));
        $this->undo(2);
        $this->assertNoErrors();
    }

    public function testPatternsOfASection(): void
    {
        $this->open('/beats/1/pattern');
        $lanes = "document.querySelector('pestle-lanes')?.dataset";
        self::assertStringContainsString('First', $this->text('.choice[aria-current]'));
        $this->clickText('Duplicate');
        $this->wait("$lanes.pattern === 'p11'");
        $this->set('section[aria-label=Steps] input[name=name]', 'Bridge');
        $this->wait("document.querySelector('.part-row select').selectedOptions[0].textContent === 'Bridge'");
        // Lanes without hits can be hidden.
        $count = 'JSON.parse('.$lanes.'.lanes).length';
        self::assertSame(7, $this->script("return $count"));
        $this->clickText('Only used');
        $this->wait("$count === 4");
        $this->clickText('All lanes');
        $this->wait("$count === 7");
        // Another section plays it too: that is said on both, and undone by making it its own.
        $this->click('.choice[href*="section=s3"]');
        $this->wait("$lanes.section === 's3'");
        $this->set('.part-row:first-child select', 'p11');
        $this->wait("$lanes.pattern === 'p11' && document.querySelector('.shared').textContent.includes('First')");
        $this->clickText('Make it its own');
        $this->wait("$lanes.pattern === 'p12' && !document.querySelector('.shared').textContent.includes('Also plays')");
        $this->clickText('Delete');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Delete Lifted, Stall') && !document.querySelector('pestle-lanes')");
        $this->clickText('New pattern');
        $this->wait("$lanes.pattern === 'p12' && $lanes.hits === '[]'");
        $this->undo(6);
        $this->assertNoErrors();
    }

    /** A song of sections, made, put in order, looped, played to its end and delivered, by pointer and keys. */
    public function testASongIsArrangedPlayedAndDelivered(): void
    {
        $this->open('/beats/1/arrange');
        $heads = "[...document.querySelectorAll('.section-head b')].map((b) => b.textContent).join(' ')";
        self::assertSame('Opening First Lifted Break Return Ending', $this->script("return $heads"));
        self::assertStringContainsString('36 bars · 1:40', $this->text('.song'));
        $this->clickText('New section');
        $this->wait("$heads.endsWith('Ending Turn')");
        $this->wait("document.querySelector('.section-head[aria-current]').textContent.includes('empty')");
        // A cell gets a pattern; what it lasts follows.
        $this->set('section[aria-label=Cell] select[name=pattern]', 'p1');
        $this->wait("document.querySelector('.section-head[aria-current]').textContent.includes('2 bars')");
        $this->set('#s-repeats', '2');
        $this->wait("document.querySelector('.section-head[aria-current]').textContent.includes('× 2')");
        $this->set('#s-bars', '1');
        $this->wait("document.querySelector('.section-head[aria-current]').textContent.includes('1 bar')");
        $this->clickText('Linked copy');
        $this->wait("$heads.endsWith('Ending Turn Turn 2')");
        $this->wait("document.querySelector('section[aria-label=Section] input[name=name]').value === 'Turn 2'");
        self::assertStringContainsString('Also plays in First, Turn.', $this->text('section[aria-label=Cell]'));
        $this->clickText('Earlier');
        $this->wait("$heads.endsWith('Ending Turn 2 Turn')");
        // By keys: a section is moved, cells are reached, muted, emptied and opened.
        $this->script("[...document.querySelectorAll('.section-head')].at(-1).focus()");
        $this->keys(WebDriverKeys::SHIFT.WebDriverKeys::ARROW_LEFT.WebDriverKeys::NULL);
        $this->wait("$heads.endsWith('Ending Turn Turn 2')");
        $this->script("document.querySelector('.cell[data-row=\"1\"][data-column=\"1\"]').focus()");
        $this->keys(WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_DOWN);
        self::assertSame('Low jar in Lifted: Jar', $this->script('return document.activeElement.ariaLabel'));
        $this->keys('m');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Mute Low jar in Lifted')");
        $this->keys(WebDriverKeys::DELETE);
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Empty Low jar in Lifted')");
        $this->undo(2);
        // From any place: the break is heard at once, and told.
        $this->script("[...document.querySelectorAll('.section-head')].find((h) => h.textContent.includes('Break')).click()");
        $this->wait("document.querySelector('section[aria-label=Section] input[name=name]').value === 'Break'");
        $this->clickText('Play from here');
        $this->wait("/^Break, bar \\d of \\d · Return in/.test(document.querySelector('#song-now').textContent)");
        $this->wait("document.querySelector('#position').textContent.startsWith('21.')");
        $this->keys(' ');
        // A short song of its last two, played to its end: what plays and what comes is told.
        foreach (['Opening', 'First', 'Lifted', 'Break', 'Return', 'Ending'] as $name) {
            $this->script("[...document.querySelectorAll('.section-head')].find((h) => h.textContent.includes('$name')).click()");
            $this->wait("document.querySelector('section[aria-label=Section] input[name=name]').value === '$name'");
            $this->click('[data-song-out]');
            $this->wait("!$heads.includes('$name')");
        }
        self::assertSame('Turn Turn 2', $this->script("return $heads"));
        $this->click('input[name=play-what][value=song]');
        $this->keys(' ');
        $this->wait("/Turn, [12] of 2, bar \\d of \\d · Turn 2 in [12] bars?/.test(document.querySelector('#song-now').textContent)");
        $this->wait("document.querySelector('.section-head[data-playing]').textContent.includes('Turn 2')", 20);
        $this->wait('!(await player()).playing');
        $this->open('/beats/1/deliver');
        $this->click('input[name=stems][value=part]');
        $this->wait("!document.querySelector('[data-stem-names=part]').hidden");
        self::assertStringContainsString('01 Stall - 86 BPM', $this->text('[data-stem-names=part]'));
        $this->click('#deliver-form .btn.main');
        $this->wait("document.querySelector('#deliveries .delivery')?.textContent.includes('up to the mix')");
        // Only one part plays in them, and the return it is sent to: of the stems that stay silent there is none.
        self::assertStringContainsString('The 2 stems add up to the mix exactly', $this->text('#deliveries .delivery'));
        $this->undo(13);
        $this->assertNoErrors();
    }

    /** A new maker goes from one bass sample to a bass line in key under the drums. */
    public function testABassLineOnKeysFromOneSample(): void
    {
        $this->open('/beats/1/gather');
        $this->script("[...document.querySelectorAll('#samples .sample-name')].find((n) => n.textContent.includes('Low jar')).click()");
        $this->wait("document.querySelector('.sample-title')?.value === 'Low jar'");
        $this->clickText('Play on keys');
        $this->wait("document.querySelector('pestle-notes') && document.querySelector('#app').dataset.page.includes('part-4')");
        self::assertStringContainsString('The recording is a D2', $this->text('section[aria-label=Instrument]'));
        // The dock is its notes now, by the beat's scale, the root told apart.
        self::assertSame(['D2', 'root'], $this->script("const n = document.querySelector('.pad.note[data-key=A]'); return [n.querySelector('.name').textContent, ['root', 'home', 'scale'].find((c) => n.classList.contains(c))]"));
        $this->wait("performance.getEntriesByType('resource').some((e) => e.name.includes('/keys/part-4/38/'))");
        $notes = "(await rows('list'))";
        $this->script("document.querySelector('pestle-notes').focus()");
        // Drawn by keys, then by pointer.
        $this->keys('x');
        $this->wait("$notes.length === 1");
        $this->keys(WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT, 'x');
        $this->wait("$notes.length === 2");
        $first = (array) $this->script("return $notes.map((n) => [n[0], n[1]])");
        self::assertSame(960, ((array) $first[1])[0]);
        $box = (array) $this->script("const b = document.querySelector('pestle-notes').getBoundingClientRect(); return [b.x, b.y, b.width, b.height]");
        [$x, $y, $width] = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, $box);
        $this->mouse('mousePressed', $x + 46 + 0.6 * $width, $y + 60);
        $this->mouse('mouseMoved', $x + 46 + 0.7 * $width, $y + 60);
        $this->mouse('mouseReleased', $x + 46 + 0.7 * $width, $y + 60);
        $this->wait("$notes.length === 3 && $notes.at(-1)[3] > 400");
        // All of them, an octave up and a step of the scale down.
        $this->script("document.querySelector('pestle-notes').focus()");
        $this->keys('a', WebDriverKeys::PAGE_UP);
        $this->wait("({$notes})[0][1] === ".(12 + self::whole(((array) $first[0])[1])));
        $this->click('[data-notes-do=scale-down]');
        // All lie in D minor now.
        $this->wait("$notes.every((n) => [2, 4, 5, 7, 9, 10, 0].includes(n[1] % 12)) && ({$notes})[0][1] < ".(12 + self::whole(((array) $first[0])[1])));
        // Played live it is recorded where it is heard.
        $this->script('document.activeElement.blur()');
        $this->keys(' ');
        $this->wait('(await player()).ticks() > 400');
        $this->click('[data-record]');
        $this->keys('d');
        usleep(300_000);
        $this->click('[data-record]');
        $this->wait("$notes.length === 4");
        self::assertStringContainsString('Recorded a note', $this->text('[data-undo]'));
        $this->wait("parseFloat(document.querySelector('#peak').textContent.replace('−', '-')) > -12");
        $this->keys(' ');
        $this->undo(7);
        $this->assertNoErrors();
    }

    public function testTheMixer(): void
    {
        $this->open('/beats/1/mix?channel=c2&insert=i2');
        $this->wait('(await player()).loop');
        $this->keys(' ');
        $this->wait('(await player()).playing');
        $render = 'await (async () => (await player()).loop.render)()';
        $first = $this->script("return $render");
        self::assertIsString($first);
        foreach ([
            ["document.querySelector('[data-channel=c1] .mute').click()", 'Mute of Mortar low'],
            ["document.querySelector('[data-channel=c8] .solo').click()", 'Solo of Chords'],
            ["document.querySelector('[data-channel=c8] .solo').click()", 'Solo of Chords'],
            ["const p = document.querySelector('[data-channel=c2] [name=pan]'); p.value = 0.5; p.dispatchEvent(new Event('change', {bubbles: true}))", 'Pan of Tin snare'],
            ["const t = document.querySelector('input[type=number][name=thresholdDb]'); t.value = -30; t.dispatchEvent(new Event('change', {bubbles: true}))", 'Threshold of Tin snare'],
            ["document.querySelector('.stage[href*=i1]').click(); while (!document.querySelector('[data-eq-controls] .toggle')) { await new Promise((r) => setTimeout(r, 50)); } document.querySelector('[data-eq-controls] .toggle').click()", 'Shape of Tin snare'],
            ["document.querySelector('[data-channel=master] .name').click(); while (!document.querySelector('input[type=number][name=ceilingDb]')) { await new Promise((r) => setTimeout(r, 50)); } const c = document.querySelector('input[type=number][name=ceilingDb]'); c.value = -3; c.dispatchEvent(new Event('change', {bubbles: true}))", 'Ceiling of Master'],
        ] as [$act, $label]) {
            $this->script($act);
            $this->wait("document.querySelector('[data-undo]').textContent.includes('$label')");
        }
        $this->wait("$render !== '$first'");
        $this->wait("parseFloat(document.querySelector('#peak').textContent.replace('−', '-')) <= -2.9");
        for ($i = 0; $i < 7; ++$i) {
            $head = $this->script("return JSON.parse(document.querySelector('#app').dataset.page).head");
            self::assertIsInt($head);
            $this->click('[data-undo]');
            $this->wait("JSON.parse(document.querySelector('#app').dataset.page).head > $head");
        }
        $this->wait("$render === '$first'");
        $this->keys(' ');
        $this->assertNoErrors();
    }

    public function testMarkersByPointer(): void
    {
        $this->open('/beats/1/chop');
        $this->wait("document.querySelector('pestle-wave')?.dataset.markers");
        $markers = "JSON.parse(document.querySelector('pestle-wave').dataset.markers)";
        self::assertSame(8, $this->script("return $markers.length"));
        $box = $this->script("const b = document.querySelector('pestle-wave').getBoundingClientRect(); return [b.x, b.y, b.width, b.height]");
        self::assertIsArray($box);
        [$x, $y, $width, $height] = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, $box);
        usleep(500_000);
        foreach ([1, 2] as $clicks) {
            $this->mouse('mousePressed', $x + 0.08 * $width, $y + $height / 2, $clicks);
            $this->mouse('mouseReleased', $x + 0.08 * $width, $y + $height / 2, $clicks);
        }
        $this->wait("$markers.length === 9");
        // Its tab dragged along moves it, dragged away takes it out.
        $tab = $x + 0.08 * $width + 8;
        $this->mouse('mousePressed', $tab, $y + $height - 12);
        $this->mouse('mouseMoved', $tab + 30, $y + $height - 12);
        $this->mouse('mouseReleased', $tab + 30, $y + $height - 12);
        $this->wait("({$markers})[1] > 0.09 * document.querySelector('pestle-wave').dataset.frames");
        $this->mouse('mousePressed', $tab + 30, $y + $height - 12);
        $this->mouse('mouseMoved', $tab + 30, $y + $height + 120);
        $this->mouse('mouseReleased', $tab + 30, $y + $height + 120);
        $this->wait("$markers.length === 8");
        $this->set('#parts', '5');
        $this->click('[data-slice-equal]');
        $this->wait("$markers.length === 5");
        foreach (['zoom-in', 'zoom-in', 'whole', 'play'] as $tool) {
            $this->click("[data-wave=$tool]");
        }
        $this->assertNoErrors();
    }

    /** A page that is on its way while a change is made was made before it. */
    public function testAPageOnItsWayDoesNotHideAChange(): void
    {
        $this->open('/beats/1/pattern');
        $this->script("const { open, send } = XMLHttpRequest.prototype; window.late = 0; XMLHttpRequest.prototype.open = function (verb, url) { this.slow = url.endsWith('/mix'); open.apply(this, arguments); }; XMLHttpRequest.prototype.send = function (body) { const { onload } = this; if (this.slow) { this.onload = () => { window.late += 1; setTimeout(() => onload.call(this), 2500); }; } send.call(this, body); }");
        $this->clickText('Mix');
        $this->wait('window.late === 1');
        $this->set('#bpm', '71');
        $this->wait("location.pathname.endsWith('/mix') && document.querySelector('.channel')");
        self::assertSame('71.00', $this->script("return document.querySelector('#bpm').value"));
        self::assertSame(2, $this->script('return window.late'));
        $this->click('[data-undo]');
        $this->wait("document.querySelector('#bpm').value !== '71.00'");
        $this->assertNoErrors();
    }

    public function testADeliveryIsCancelled(): void
    {
        $files = static fn (): array => glob(self::$pestle->data.'/deliveries/*/*.zip') ?: [];
        $before = $files();
        $this->open('/beats/1/deliver');
        // Long enough that it is not done before a hand is at the button.
        self::assertTrue($this->script("return (await import('/build/js/changes.js')).change({ type: 'set', 'song/e3/repeats': 16, 'song/e5/repeats': 16 })"));
        $this->click('input[name=stems][value=pad]');
        $this->click('#deliver-form .btn.main');
        $this->wait("document.querySelector('.delivery progress')");
        $this->clickText('Cancel');
        $this->wait("document.querySelector('.delivery[data-state=cancelled]')");
        // Where it was packed already when it was cancelled, its files go in the next moment.
        for ($tries = 0; $before !== $files() && $tries < 50; ++$tries) {
            usleep(100_000);
        }
        self::assertSame($before, $files());
        $this->undo(1);
        $this->assertNoErrors();
    }

    /** Drags from a place in the lanes to another; places in lanes and steps, $lift in pixels. */
    private function drag(int $lane, float $step, int $toLane, float $toStep, int $lift = 0): void
    {
        $place = static fn (int $lane, float $step): string => "[b.x + $step * b.width / steps, b.y + 20 + ($lane + 0.6) * 33]";
        $places = $this->script("const l = document.querySelector('pestle-lanes'); const b = l.getBoundingClientRect(); const steps = l.dataset.ticks / 240; return [...".$place($lane, $step).', ...'.$place($toLane, $toStep).']');
        self::assertIsArray($places);
        [$x, $y, $toX, $toY] = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, $places);
        $this->mouse('mousePressed', $x, $y);
        for ($i = 1; $i <= 10; ++$i) {
            $this->mouse('mouseMoved', $x + ($toX - $x) * $i / 10, $y + ($toY + $lift - $y) * $i / 10);
        }
        $this->mouse('mouseReleased', $toX, $toY + $lift);
    }
}
