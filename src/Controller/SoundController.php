<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Live\LiveSets;
use Pestle\App\Queue\Work;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Sound\LongAnswer;
use Pestle\App\Sound\Sound;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Audition;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Strikes;
use Pestle\Core\Mix\Advice;
use Pestle\Core\Render\Rendered;
use Pestle\Core\Synth\Click;
use Pestle\Core\Synth\OldPiano;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\GoneHttpException;
use Symfony\Component\Routing\Attribute\Route;

/**
 * Rendered sound: the answer's JSON behind its length (32 bit, little-endian), then interleaved 32-bit integers of 2^-23.
 * Before what takes a while stand zeros, four bytes each, while it is worked on; its JSON has an "error" where others have a status.
 */
final class SoundController extends AbstractController
{
    private const NOTE_SECONDS = 1.2;
    /** What takes longer is sent as a long answer. */
    private const SOON_SECONDS = 0.25;

    public function __construct(private readonly Beats $beats, private readonly Sound $sound, private readonly Work $work, private readonly KitShelf $shelf, private readonly LiveSets $live)
    {
    }

    /**
     * The loop of a section, or of a pattern on its own; only what changed since the render named in "have". With "preview", as it would be after a
     * change that is not stored; with "hear", as an audition has it; with "tempo", as if that were the beat's; with "from" and "count" only so many of its segments. A page that asks while its section is being deleted hears that it is "gone".
     */
    #[Route('/beats/{beat}/loop', requirements: ['beat' => '\d{1,9}'], methods: 'POST')]
    public function loop(BeatRecord $record, Request $request): Response
    {
        $fields = ChangeController::fields($request);
        $json = $this->beats->json($record);
        if (\is_array($fields['preview'] ?? null)) {
            $json = BeatCodec::encode(Changes::apply(Changes::read($this->shelf->filled($fields['preview'])), BeatCodec::decode($json)));
        }
        $json = $this->heard($record, $json, \is_string($fields['hear'] ?? null) ? $fields['hear'] : '', \is_string($fields['tempo'] ?? null) ? $fields['tempo'] : '');
        $what = \is_string($fields['what'] ?? null) ? $fields['what'] : '';

        $from = $fields['from'] ?? null;

        return $this->long(\is_int($from)
            ? ['op' => 'piece', 'beat' => $json, 'what' => $what, 'from' => max(0, $from), 'count' => \is_int($fields['count'] ?? null) ? $fields['count'] : 1, 'soon' => true]
            : ['op' => 'loop', 'beat' => $json, 'what' => $what, 'have' => $fields['have'] ?? '']);
    }

    /** Segments of the whole beat, or of a section or pattern that goes round, from one on, or from the one in which a "tick" lies. */
    #[Route('/beats/{beat}/piece', requirements: ['beat' => '\d{1,9}'], methods: 'GET')]
    public function piece(BeatRecord $record, Request $request): Response
    {
        $json = $this->heard($record, $this->beats->json($record), $request->query->getString('hear'), $request->query->getString('tempo'));
        $what = $request->query->getString('what');

        return $this->long([
            'op' => 'piece',
            'beat' => $json,
            'what' => $what,
            'from' => max(0, (int) $request->query->get('from', '0')),
            'tick' => (int) $request->query->get('tick', '-1'),
            'count' => max(1, (int) $request->query->get('count', '8')),
        ]);
    }

    /** How loud the whole beat is, or a section once through: as JSON. */
    #[Route('/beats/{beat}/measure', requirements: ['beat' => '\d{1,9}'], methods: 'GET')]
    public function measure(BeatRecord $record, Request $request): Response
    {
        return $this->told(['op' => 'measure', 'beat' => $this->heard($record, $this->beats->json($record), $request->query->getString('hear')), 'what' => $request->query->getString('what')]);
    }

    /** What could be done about what was measured, given what is aimed for. */
    #[Route('/beats/{beat}/advice', requirements: ['beat' => '\d{1,9}'], methods: 'GET')]
    public function advice(BeatRecord $record, Request $request): Response
    {
        $said = new Fields($request->query->all());
        $db = static fn (Fields $fields, string $field): float => $fields->number($field, -400.0, 400.0);
        $peaks = json_decode($said->text('peaksDb', 20_000), true);
        $peaks = new Fields(\is_array($peaks) ? $peaks : []);
        $advice = new Advice($this->beats->content($record)->mixer, $db($said, 'integratedLufs'), $db($said, 'truePeakDb'), $db($said, 'limiterDb'), $said->number('correlation', -1.0, 1.0), array_combine($peaks->keys(), array_map(static fn (string $line): float => $db($peaks, $line), $peaks->keys())));

        return new JsonResponse(['advice' => $advice->towards($said->number('target', -40.0, -4.0))], 200, ['Cache-Control' => 'no-store']);
    }

    /** Spectra of "lines" over a section, segment by segment; without lines, which channels cover which others in it: as JSON. */
    #[Route('/beats/{beat}/spectrum', requirements: ['beat' => '\d{1,9}'], methods: 'GET')]
    public function spectrum(BeatRecord $record, Request $request): Response
    {
        return $this->told(['op' => 'spectrum', 'beat' => $this->beats->json($record), 'what' => $request->query->getString('what'), 'lines' => $request->query->getString('lines')]);
    }

    /** @param array<string, mixed> $question whose answer is JSON without sound */
    private function told(array $question): Response
    {
        $asked = $this->sound->put($question);
        $ready = $asked?->within(self::SOON_SECONDS);
        if (null !== $asked && null === $ready) {
            return LongAnswer::of($asked, ' ', 'application/json', static fn (array $answer): string => json_encode($answer, \JSON_THROW_ON_ERROR));
        }
        [$answer] = null === $ready ? $this->sound->ask($question) : Sound::kept($ready);
        self::refuse($answer);

        return $this->json($answer, 200, ['Cache-Control' => 'no-store']);
    }

    /** @param array<array-key, mixed> $answer */
    private static function refuse(array $answer): void
    {
        if (\is_string($answer['error'] ?? null)) {
            throw new InvalidChange($answer['error']);
        }
    }

    /** A beat as it is heard for a moment, as an audition has it; "before" is as it was before the last change. */
    private function heard(BeatRecord $record, string $json, string $hear, string $tempo = ''): string
    {
        if ('' !== $tempo) {
            return BeatCodec::encode(Audition::of(BeatCodec::decode($this->heard($record, $json, $hear)), 'tempo/'.$tempo));
        }
        if ('before' === $hear) {
            $undo = $this->beats->history($record)->undoTo;

            return null === $undo ? $json : $this->beats->json($record, $undo);
        }

        // As it is performed; what stands behind it tells the page's versions apart.
        if (str_starts_with($hear, 'live/')) {
            return $this->live->json($record);
        }

        return '' === $hear ? $json : BeatCodec::encode(Audition::of(BeatCodec::decode($json), $hear));
    }

    /** A note of an instrument; the key in the address changes with its sound. */
    #[Route('/beats/{beat}/keys/{part}/{pitch}/{key}', requirements: ['beat' => '\d{1,9}', 'part' => 'part-\d{1,3}', 'pitch' => '\d{1,3}', 'key' => '[0-9a-f]{16}'], methods: 'GET')]
    public function note(BeatRecord $record, string $part, int $pitch, string $key, Request $request): Response
    {
        $json = $this->beats->json($record);
        $beat = BeatCodec::decode($json);
        $asked = $beat->parts[$part] ?? throw new GoneHttpException('This part is no longer in the beat.');
        if ($asked->isKit()) {
            throw new GoneHttpException('This part is played on pads now.');
        }
        $current = (new Strikes($beat))->printOfKeys($asked) === $key;

        return $this->struck(['op' => 'note', 'beat' => $json, 'part' => $part, 'pitch' => min(127, $pitch)], $request, $current);
    }

    /** A pad struck with a velocity; the key in the address changes with its sound. What crossed a change is said to be "old" and not kept under its name. */
    #[Route('/beats/{beat}/pads/{pad}/{key}', requirements: ['beat' => '\d{1,9}', 'pad' => '[a-z]{1,2}\d{1,2}', 'key' => '[0-9a-f]{16}'], methods: 'GET')]
    public function pad(BeatRecord $record, string $pad, string $key, Request $request): Response
    {
        $json = $this->beats->json($record);
        $beat = BeatCodec::decode($json);
        $asked = $beat->kit->pad($pad) ?? throw new GoneHttpException('This pad holds no sound any more.');
        $current = (new Strikes($beat))->printOfPad($asked) === $key;

        return $this->struck(['op' => 'pad', 'beat' => $json, 'pad' => $pad, 'grade' => $request->query->getString('grade')], $request, $current);
    }

    /**
     * What is struck with a velocity, one of its sounds where they answer in turn; the whole of it, or piece after piece.
     *
     * @param array<string, mixed> $what
     */
    private function struck(array $what, Request $request, bool $current): Response
    {
        $asked = $request->query;
        $piece = $asked->has('piece') ? ['piece' => max(0, min(30, (int) $asked->get('piece')))] : [];
        $response = $this->answer([...$what, 'velocity' => max(1, min(127, (int) $asked->get('velocity', '127'))), 'turn' => max(0, (int) $asked->get('turn', '0')), ...$piece], $current ? [] : ['old' => true]);
        $response->headers->set('Cache-Control', $current && [] === $piece ? 'private, max-age=86400, immutable' : 'no-store');

        return $response;
    }

    /** The two clicks of the metronome, one after the other. */
    #[Route('/click/{sound}', methods: 'GET')]
    public function click(Click $sound): Response
    {
        $block = $sound->both(Beat::SAMPLE_RATE);
        $response = self::pack(['rate' => Beat::SAMPLE_RATE, 'frames' => $block->frames()], Rendered::of(new StereoBlock($block->left, $block->right), $block->frames(), [])->packed());
        $response->headers->set('Cache-Control', 'private, max-age=86400');

        return $response;
    }

    /** Some notes as an old piano plays them, to compare by ear; MIDI numbers. */
    #[Route('/notes/{notes}', requirements: ['notes' => '\d{1,3}(,\d{1,3}){0,5}'], methods: 'GET')]
    public function notes(string $notes): Response
    {
        $played = array_map(static fn (string $note): array => [max(21, min(108, (int) $note)), 0.0, self::NOTE_SECONDS, 90], explode(',', $notes));
        $block = (new OldPiano(Beat::SAMPLE_RATE))->recording($played, self::NOTE_SECONDS + 0.5);
        $response = self::pack(['rate' => Beat::SAMPLE_RATE, 'frames' => $block->frames()], Rendered::of($block, $block->frames(), [])->packed());
        $response->headers->set('Cache-Control', 'private, max-age=86400');

        return $response;
    }

    /**
     * @param array<string, mixed> $request
     * @param array<string, mixed> $said    beside what the engine says
     */
    private function answer(array $request, array $said = []): Response
    {
        [$answer, $sound] = $this->sound->ask($request);
        self::refuse($answer);

        return self::pack([...$this->worked($answer), ...$said], $sound);
    }

    /**
     * As answer(), of what may take long.
     *
     * @param array<string, mixed> $request
     */
    private function long(array $request): Response
    {
        $asked = $this->sound->put($request);
        $ready = $asked?->within(self::SOON_SECONDS);
        if (null === $asked) {
            return $this->answer($request);
        }
        if (null === $ready) {
            return LongAnswer::of($asked, "\0\0\0\0", 'application/octet-stream', fn (array $answer, string $sound): string => self::packed($this->worked($answer), $sound));
        }
        [$answer, $sound] = Sound::kept($ready);
        self::refuse($answer);

        return self::pack($this->worked($answer), $sound);
    }

    /**
     * An answer with how far that is for which a lighter sound stood, which is handed to the workers.
     *
     * @param array<array-key, mixed> $answer
     *
     * @return array<string, mixed>
     */
    private function worked(array $answer): array
    {
        // A lighter sound stood for what is being worked out; how far that is.
        $working = \is_array($answer['working'] ?? null) ? $answer['working'] : [];
        unset($answer['working']);
        foreach ($working as $one) {
            if (\is_array($one) && \is_string($one[0] ?? null)) {
                $this->work->workOut($one[0]);
                $answer['working'] = is_numeric($one[1] ?? null) ? (float) $one[1] : 0.0;
            }
        }
        $named = [];
        foreach ($answer as $name => $value) {
            $named[(string) $name] = $value;
        }

        return $named;
    }

    /** @param array<string, mixed> $answer */
    public static function pack(array $answer, string $sound): Response
    {
        return new Response(self::packed($answer, $sound), 200, ['Content-Type' => 'application/octet-stream', 'Cache-Control' => 'no-store']);
    }

    /** @param array<string, mixed> $answer */
    private static function packed(array $answer, string $sound): string
    {
        $json = json_encode($answer, \JSON_THROW_ON_ERROR);
        // The sound begins at a multiple of four, so that it can be read in place.
        $json .= str_repeat(' ', (4 - \strlen($json) % 4) % 4);

        return pack('V', \strlen($json)).$json.$sound;
    }
}
