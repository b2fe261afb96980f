<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\Sample;
use Pestle\App\Gather\EditedSample;
use Pestle\App\Page\ChopFits;
use Pestle\App\Page\ChopPage;
use Pestle\App\Sound\Stretch;
use Pestle\App\Storage\Beats;
use Pestle\Core\Analysis\PitchGuess;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Effect\Ticked;
use Pestle\Core\Synth\Click;
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
    /** So much of a slice is enough to hear its note. */
    private const PITCH_FRAMES = 131072;

    /** A tile of the outline at one of its zooms, as WaveOverview cuts them. */
    #[Route('/outline/{level}/{tile}', requirements: ['level' => '\d', 'tile' => '\d{1,6}'])]
    public function outline(EditedSample $sample, int $level, int $tile): Response
    {
        return new Response($sample->outline()->tile($level, $tile), 200, ['Content-Type' => 'application/octet-stream', 'Cache-Control' => 'private, max-age=86400, immutable']);
    }

    /** How far a sound with edits that take long is. */
    #[Route('/progress')]
    public function progress(EditedSample $sample): Response
    {
        return new JsonResponse(['progress' => $sample->progress()], 200, ['Cache-Control' => 'no-store']);
    }

    /** The note a stretch is heard as, as a MIDI number with its fraction; null where there is none. */
    #[Route('/pitch')]
    public function pitch(EditedSample $sample, Request $request): Response
    {
        $from = max(0, (int) $request->query->get('from', '0'));
        $count = max(1, min(self::PITCH_FRAMES, (int) $request->query->get('to', '0') - $from));
        $source = $sample->source($from, $count);
        $heard = PitchGuess::of(new MemorySource($source->read($from, $count), $source->sampleRate()));

        return new JsonResponse(['note' => null === $heard ? null : round($heard->note, 3)], 200, ['Cache-Control' => 'no-store']);
    }

    /** Single values of both sides, for looking very closely: interleaved 16-bit integers. */
    #[Route('/frames')]
    public function frames(EditedSample $sample, Request $request): Response
    {
        $from = max(0, (int) $request->query->get('from', '0'));
        $count = max(1, min(self::MOST_FRAMES, (int) $request->query->get('count', '1024')));
        $source = $sample->source($from, $count);
        $block = $source->read($from, $count);
        $encoder = new \Pestle\Core\Audio\PcmEncoder(\Pestle\Core\Audio\SampleFormat::Int16);

        return new Response($encoder->encode($block), 200, ['Content-Type' => 'application/octet-stream', 'Cache-Control' => 'private, max-age=86400, immutable']);
    }

    /** The sound for listening to, from a frame of the source on, at the rate beats play at; with clicks on its beat grid if wished. */
    #[Route('/sound')]
    public function sound(EditedSample $sample, Request $request): Response
    {
        $wanted = max(0, (int) $request->query->get('from', '0'));
        $source = $sample->source($wanted, self::LISTEN_SECONDS * $sample->sample->rate);
        if ($request->query->has('click')) {
            $clicks = Click::Wood->both($source->sampleRate());
            $half = intdiv($clicks->frames(), 2);
            $source = new Ticked($source, ChopPage::linesOf($sample->sample, $sample->edits), $clicks->slice(0, $half), $clicks->slice($half, $half), $sample->sample->beatsABar());
        }
        $heard = Resampled::toRate($source, Beat::SAMPLE_RATE);
        $from = (int) ($wanted / $source->sampleRate() * Beat::SAMPLE_RATE);
        $count = max(0, min($heard->frames() - $from, self::LISTEN_SECONDS * Beat::SAMPLE_RATE));

        return Stretch::answer($heard, $from, $count, ['sourceRate' => $source->sampleRate()]);
    }

    /** A loop as it would sound fitted to a beat. */
    #[Route('/fitted')]
    public function fitted(EditedSample $sample, Request $request, Beats $beats): Response
    {
        $record = $beats->find((int) $request->query->get('beat', '0')) ?? throw $this->createNotFoundException('This beat is not there.');
        $chop = new ChopPage($sample->sample, $beats->content($record)->with(['edits' => []]));
        $fit = (new ChopFits($chop))->all()[0]['fit'] ?? null;

        return $this->sound($sample->with(new Edits($fit->edits ?? [])), $request);
    }
}
