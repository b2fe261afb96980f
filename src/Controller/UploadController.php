<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\Upload;
use Pestle\App\Gather\Arrive;
use Pestle\App\Gather\Dropped;
use Pestle\App\Gather\SampleFacts;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Gather\Tags;
use Pestle\App\Gather\Uploads;
use Pestle\App\Queue\JobState;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Exchange\Fixing;
use Pestle\Core\Exchange\Resampling;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Edits;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** Files come in by parts of 4 MB: begin, send the parts, then ask how far the listening is. */
#[Route('/uploads')]
final class UploadController extends AbstractController
{
    public function __construct(private readonly Uploads $uploads, private readonly SampleStore $samples, private readonly Work $work)
    {
    }

    #[Route('', methods: 'POST')]
    public function begin(Request $request): Response
    {
        $fields = new Fields(ChangeController::fields($request));
        $upload = $this->uploads->begin($fields->text('name', 120), $fields->whole('size', 0, 1 << 50), $fields->has('tags') ? Tags::read(implode(',', $fields->texts('tags', 12))) : null);

        return new JsonResponse(['id' => $upload->id, 'part' => Uploads::PART_BYTES], 201);
    }

    #[Route('/{id}', requirements: ['id' => '[0-9a-f]{24}'], methods: 'PUT')]
    public function part(string $id, Request $request): Response
    {
        $upload = $this->upload($id);
        $at = (new Fields($request->query->all()))->whole('at', 0, Uploads::MAX_BYTES);
        $this->uploads->receive($upload, $at, $request->getContent(), \in_array($request->query->getString('for'), ['kit', 'beats'], true));

        return $this->state($upload);
    }

    #[Route('/{id}', requirements: ['id' => '[0-9a-f]{24}'], methods: 'GET')]
    public function show(string $id): Response
    {
        return $this->state($this->upload($id));
    }

    #[Route('/{id}', requirements: ['id' => '[0-9a-f]{24}'], methods: 'DELETE')]
    public function cancel(string $id): Response
    {
        $upload = $this->upload($id);
        $this->uploads->cancel($upload);

        return $this->state($upload);
    }

    /** A stretch of a sample, with its edits, becomes a sample of its own. */
    #[Route('/lifted', methods: 'POST')]
    public function lift(Request $request): Response
    {
        $fields = new Fields(ChangeController::fields($request));
        $sample = $this->samples->find($fields->hash('sample')) ?? throw $this->createNotFoundException('This sample is not in the library.');
        $edits = EditFields::read($fields, 'edits');
        $from = $fields->frame('from');
        $cut = new Edit(EditKind::Keep, $from, $fields->frame('to', $from + 1));

        return new JsonResponse(['id' => $this->uploads->lift($sample, new Edits([...$edits->list, $cut]))->id], 201);
    }

    /** The output of the song, of a section, a pattern or a channel becomes a sample. */
    #[Route('/resampled', methods: 'POST')]
    public function resample(Request $request, Beats $beats): Response
    {
        $fields = new Fields(ChangeController::fields($request));
        $record = $beats->find($fields->whole('beat', 1, 999_999_999)) ?? throw $this->createNotFoundException('This beat is not there.');
        $beat = $beats->content($record);
        $what = 'beat' === $fields->text('what') ? null : ($beat->sections[$fields->id('what')] ?? $beat->pattern($fields->id('what')))->id;
        $channel = $fields->has('channel') ? $beat->channel($fields->id('channel'))->id : null;
        $upload = $this->uploads->resample($record, Resampling::name($beat, $what, $channel), $what, $channel, $fields->flag('wet'));

        return new JsonResponse(['id' => $upload->id], 201);
    }

    /** What a part plays in one coming of a section becomes samples, one for each channel; those that stay silent have none. */
    #[Route('/fixed', methods: 'POST')]
    public function fix(Request $request, Beats $beats): Response
    {
        $fields = new Fields(ChangeController::fields($request));
        $record = $beats->find($fields->whole('beat', 1, 999_999_999)) ?? throw $this->createNotFoundException('This beat is not there.');
        $beat = $beats->content($record);
        $fixing = new Fixing($beat, $fields->id('entry'), $fields->id('part'));

        return new JsonResponse(['at' => $fixing->at, 'sounds' => $this->uploads->fix($record, $beat, $fields->id('entry'), $fields->id('part'), $fixing)], 201);
    }

    /** How several samples belong together: what they are likeliest to be on a pad, and their notes. */
    #[Route('/together', methods: 'POST')]
    public function together(Request $request, Dropped $dropped): Response
    {
        $samples = ChangeController::fields($request)['samples'] ?? null;

        return new JsonResponse($dropped->read(\is_array($samples) ? array_values(array_filter($samples, is_string(...))) : []));
    }

    private function upload(string $id): Upload
    {
        return $this->uploads->find($id) ?? throw $this->createNotFoundException('This upload is not known. Send the file again.');
    }

    private function state(Upload $upload): JsonResponse
    {
        $sample = null === $upload->sample ? null : $this->samples->find($upload->sample);
        $given = Upload::LISTENING === $upload->state && JobState::Aside === $this->work->find(new Arrive($upload->id))?->state ? Work::GIVEN_UP : null;

        return new JsonResponse([
            'state' => null === $given ? $upload->state : Upload::FAILED,
            'received' => $upload->received,
            'message' => $given ?? $upload->message,
            'sample' => null === $sample ? null : [...SampleFacts::of($sample), 'there' => $sample->addedAt < $upload->startedAt],
        ]);
    }
}
