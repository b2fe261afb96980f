<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\Sample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Page\ChopPage;
use Pestle\App\Storage\Beats;
use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Analysis\PitchGuess;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Render\Rendered;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Effect\Part;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Sample\Snap;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** What pages need of a sample: its outline, its sound, where its hits are. */
#[Route('/samples/{hash}', requirements: ['hash' => '[0-9a-f]{64}'], methods: 'GET')]
final class SampleController extends AbstractController
{
    /** Longest stretch sent at once for listening, in seconds. */
    private const LISTEN_SECONDS = 60;
    private const MOST_FRAMES = 65536;

    public function __construct(private readonly SampleStore $samples)
    {
    }

    /** All zooms of the outline, as WaveOverview encodes them. */
    #[Route('/overview')]
    public function overview(string $hash, Request $request): Response
    {
        $sample = $this->sample($hash);
        $bytes = $request->query->has('edits') ? WaveOverview::of($this->source($hash, $request))->encode() : $sample->wave()->encode();

        return new Response($bytes, 200, ['Content-Type' => 'application/octet-stream', 'Cache-Control' => 'private, max-age=86400, immutable']);
    }

    /** The nearest frame to cut at: where the wave crosses zero, or where a hit begins. */
    #[Route('/snap')]
    public function snap(string $hash, Request $request): Response
    {
        $source = $this->source($hash, $request);
        $at = max(0, min($source->frames(), (int) $request->query->get('at', '0')));

        return new JsonResponse(['frame' => 'hit' === $request->query->get('to') ? Snap::toHit($source, $at) : Snap::toZero($source, $at)]);
    }

    /** Where the sound begins and ends, without the silence around it. */
    #[Route('/sounding')]
    public function sounding(string $hash, Request $request): Response
    {
        [$from, $to] = Snap::sounding($this->source($hash, $request));

        return new JsonResponse(['from' => $from, 'to' => $to]);
    }

    /** Single values of both sides, for looking very closely: interleaved 16-bit integers. */
    #[Route('/frames')]
    public function frames(string $hash, Request $request): Response
    {
        $source = $this->source($hash, $request);
        $from = max(0, (int) $request->query->get('from', '0'));
        $count = max(1, min(self::MOST_FRAMES, (int) $request->query->get('count', '1024')));
        $block = $source->read($from, $count);
        $encoder = new \Pestle\Core\Audio\PcmEncoder(\Pestle\Core\Audio\SampleFormat::Int16);

        return new Response($encoder->encode($block), 200, ['Content-Type' => 'application/octet-stream', 'Cache-Control' => 'private, max-age=86400, immutable']);
    }

    /** The sound for listening to, from a frame of the source on, at the rate beats play at. */
    #[Route('/sound')]
    public function sound(string $hash, Request $request): Response
    {
        $source = $this->source($hash, $request);
        $heard = Resampled::toRate($source, Beat::SAMPLE_RATE);
        $from = (int) (max(0, (int) $request->query->get('from', '0')) / $source->sampleRate() * Beat::SAMPLE_RATE);
        $count = max(0, min($heard->frames() - $from, self::LISTEN_SECONDS * Beat::SAMPLE_RATE));
        $sound = '';
        for ($at = 0; $at < $count; $at += 8192) {
            $n = min(8192, $count - $at);
            $packed = Rendered::of($heard->read($from + $at, $n), $n, [])->packed();
            $sound .= '' === $packed ? str_repeat("\0", 8 * $n) : $packed;
        }

        return SoundController::pack(['rate' => Beat::SAMPLE_RATE, 'frames' => $count, 'sourceRate' => $source->sampleRate()], $sound);
    }

    /** Slices from the lowest note to the highest; those without a note come last. */
    #[Route('/pitches')]
    public function pitches(string $hash, Request $request): Response
    {
        $source = $this->source($hash, $request);
        $markers = \array_slice(array_values(array_filter(array_map(intval(...), explode(',', $request->query->getString('at'))), static fn (int $f): bool => $f >= 0 && $f < $source->frames())), 0, Slices::MAX);
        sort($markers);
        $notes = [];
        foreach ($markers as $i => $from) {
            $to = min($markers[$i + 1] ?? $source->frames(), $from + 2 * $source->sampleRate());
            $pitch = PitchGuess::of(new Part($source, $from, $to));
            $notes[] = null === $pitch || $pitch->confidence < 0.3 ? 128.0 : $pitch->note;
        }
        $order = array_keys($notes);
        usort($order, static fn (int $a, int $b): int => [$notes[$a], $a] <=> [$notes[$b], $b]);

        return new JsonResponse(['order' => $order]);
    }

    /** A loop as it would sound fitted to a beat. */
    #[Route('/fitted')]
    public function fitted(string $hash, Request $request, Beats $beats): Response
    {
        $record = $beats->find((int) $request->query->get('beat', '0')) ?? throw $this->createNotFoundException('This beat is not there.');
        $chop = new ChopPage($this->sample($hash), $beats->content($record)->with(['edits' => []]));
        $fit = $chop->fits()[0]['fit'] ?? null;
        $request->query->set('edits', json_encode((new Edits($fit->edits ?? []))->toArray(), \JSON_THROW_ON_ERROR));

        return $this->sound($hash, $request);
    }

    /** Where hits begin, in frames, for a sensitivity of 0 to 100 and a least distance in milliseconds. */
    #[Route('/hits')]
    public function hits(string $hash, Request $request): Response
    {
        $sensitivity = max(0, min(100, (int) $request->query->get('sensitivity', '50'))) / 100;
        $shortest = max(10, min(2000, (int) $request->query->get('shortest', '50'))) / 1000;

        return new JsonResponse(['hits' => Onsets::find($this->source($hash, $request), $sensitivity, $shortest)]);
    }

    private function source(string $hash, Request $request): AudioSource
    {
        $this->sample($hash);
        $edits = $request->query->getString('edits');

        return $this->samples->library()->open('' === $edits ? $hash : EditFields::read(new Fields(['edits' => $edits]), 'edits')->of($hash));
    }

    private function sample(string $hash): Sample
    {
        return $this->samples->find($hash) ?? throw $this->createNotFoundException('This sample is not in the library.');
    }
}
