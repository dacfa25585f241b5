<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Event\ControllerArgumentsEvent;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\ConflictHttpException;
use Ypomna\App\People\TokenAccount;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/**
 * A program that does not know whether it was heard asks again with the same Idempotency-Key: then nothing is done twice, and it gets the
 * first answer. The key belongs to a person, for a day.
 */
final readonly class FirstAnswers
{
    private const FIELD = 'Idempotency-Key';
    private const LONGEST = 255;
    private const KEPT = '-1 day';
    /** Whoever has not answered by then was killed. */
    private const DEAD = '-2 minutes';
    private const ATTRIBUTE = '_first_answer';

    public function __construct(private Connection $database, private Security $security, private ClockInterface $realTime)
    {
    }

    #[AsEventListener(priority: 80)]
    public function onArguments(ControllerArgumentsEvent $event): void
    {
        $request = $event->getRequest();
        $account = $this->security->getUser();
        if (!$event->isMainRequest() || !$account instanceof TokenAccount || 'POST' !== $request->getMethod()
            || !$request->headers->has(self::FIELD) || !ApiPath::is($request)) {
            return;
        }
        $key = (string) $request->headers->get(self::FIELD);
        if ('' === $key || \strlen($key) > self::LONGEST) {
            throw new BadRequestHttpException();
        }
        $own = ['person' => $account->name, 'key_hash' => hash('sha256', $key, true)];
        $body = hash('sha256', $request->getRequestUri()."\0".self::content($request), true);
        $answer = $this->first($own, $body);
        if (null === $answer) {
            $request->attributes->set(self::ATTRIBUTE, $own);
        } else {
            $event->setController(static fn (): JsonResponse => $answer);
        }
    }

    /** What was sent: of forms with files, where PHP has read it already, the fields and the digests of the files. */
    private static function content(Request $request): string
    {
        // What is large is read as a stream.
        $hash = hash_init('sha256');
        hash_update_stream($hash, $request->getContent(true));
        $content = hash_final($hash)."\0".json_encode($request->request->all());
        foreach ($request->files->all() as $name => $file) {
            $content .= "\0".$name.($file instanceof UploadedFile ? @hash_file('sha256', $file->getPathname()) : '');
        }

        return $content;
    }

    #[AsEventListener(priority: -100)]
    public function onResponse(ResponseEvent $event): void
    {
        $own = $event->getRequest()->attributes->get(self::ATTRIBUTE);
        if (!$event->isMainRequest() || !\is_array($own)) {
            return;
        }
        /** @var array<string, string> $own */
        $response = $event->getResponse();
        if ($response->getStatusCode() >= 500 || 429 === $response->getStatusCode()) {
            // Nothing was done that should not be tried again.
            $this->database->delete('first_answer', $own);

            return;
        }
        $this->database->update('first_answer', [
            'status' => $response->getStatusCode(), 'location' => $response->headers->get('Location'), 'body' => $response->getContent(),
        ], $own);
    }

    /**
     * @param array{person: string, key_hash: string} $own
     *
     * @return JsonResponse|null null if nothing was answered yet: it is this one's turn
     */
    private function first(array $own, string $body): ?JsonResponse
    {
        $now = $this->realTime->now();
        $this->database->executeStatement(
            'DELETE FROM first_answer WHERE asked_at < ? OR (person = ? AND key_hash = ? AND status = 0 AND asked_at < ?)',
            [
                MomentType::text($now->modify(self::KEPT)), $own['person'], $own['key_hash'], MomentType::text($now->modify(self::DEAD)),
            ],
        );
        $new = $this->database->executeStatement(
            'INSERT IGNORE INTO first_answer (person, key_hash, body_hash, asked_at) VALUES (?, ?, ?, ?)',
            [$own['person'], $own['key_hash'], $body, MomentType::text($now)],
        );
        if (1 === (int) $new) {
            return null;
        }
        $row = Row::of($this->database->fetchAssociative(
            'SELECT body_hash, status, location, body FROM first_answer WHERE person = ? AND key_hash = ?', array_values($own),
        ));
        if ($row->textOrNull('body_hash') !== $body) {
            throw InvalidFields::at('', 'This Idempotency-Key came with another body before.');
        }
        if (0 === $row->int('status')) {
            throw new ConflictHttpException();
        }
        $answer = new JsonResponse($row->textOrNull('body') ?? '', $row->int('status'), ['Cache-Control' => 'no-store'], true);
        if ($row->int('status') >= 400) {
            $answer->headers->set('Content-Type', 'application/problem+json');
        }
        if (null !== $row->textOrNull('location')) {
            $answer->headers->set('Location', $row->text('location'));
        }

        return $answer;
    }
}
