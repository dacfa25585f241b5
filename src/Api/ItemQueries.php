<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Shared\Codes;

/** Which items a program wants, from the address that it asks. */
final readonly class ItemQueries
{
    public const NAMES = [
        'sorted' => 'true or false: whether somebody said where they go.', 'dossier' => 'The code of the dossier in which they lie.',
        'within' => 'The code of a dossier: what lies in it or in one below it.',
        'parent' => 'The code of the item right under which they are.',
        'kind' => 'capture, address, note, excerpt, file or recording.', 'tag' => 'The name of a tag that they have.',
        'capture' => 'The code of the capture that they are about.', 'due' => 'before:DAY, as before:2026-12-01.',
        'important' => 'true or false.', 'words' => 'Words that stand in the title.',
        'order' => 'hand (in a dossier, or under an item; usual there), newest (usual elsewhere), oldest, title, due.',
    ];

    public function of(Request $request, int $most): ItemQuery
    {
        $query = $request->query;
        $values = [];
        foreach (array_keys(self::NAMES) as $name) {
            $value = $query->all()[$name] ?? null;
            if (null !== $value && !\is_string($value)) {
                throw new BadRequestHttpException();
            }
            $values[$name] = '' === $value ? null : $value;
        }
        foreach (['dossier', 'within', 'parent', 'capture'] as $name) {
            if (null !== $values[$name] && 1 !== preg_match('/^'.Codes::PATTERN.'$/D', $values[$name])) {
                throw new BadRequestHttpException();
            }
        }
        $kind = null === $values['kind'] ? null : ItemKind::tryFrom($values['kind']) ?? throw new BadRequestHttpException();
        $usual = null !== $values['dossier'] || null !== $values['parent'] ? ItemOrder::Hand : ItemOrder::Newest;
        $order = null === $values['order'] ? $usual : ItemOrder::tryFrom($values['order']) ?? throw new BadRequestHttpException();

        return new ItemQuery(
            self::truth($values['sorted']), $values['dossier'], $values['within'], $values['parent'], $kind, $values['tag'],
            $values['capture'], self::day($values['due']), self::truth($values['important']), null, $order,
            self::read($query->all()['after'] ?? null), $most, $values['words'],
        );
    }

    /** @param array{string, int} $cursor */
    public static function written(array $cursor): string
    {
        return strtr(rtrim(base64_encode(json_encode($cursor, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE)), '='), '+/', '-_');
    }

    /** @return array{string, int}|null */
    private static function read(mixed $after): ?array
    {
        if (null === $after || '' === $after) {
            return null;
        }
        $cursor = \is_string($after) && \strlen($after) <= 8_192
            ? json_decode((string) base64_decode(strtr($after, '-_', '+/'), true), true, 3) : null;
        if (!\is_array($cursor) || !\is_string($cursor[0] ?? null) || !\is_int($cursor[1] ?? null)) {
            throw new BadRequestHttpException();
        }

        return [$cursor[0], $cursor[1]];
    }

    private static function truth(?string $value): ?bool
    {
        return match ($value) {
            null => null, 'true' => true, 'false' => false, default => throw new BadRequestHttpException(),
        };
    }

    private static function day(?string $value): ?\DateTimeImmutable
    {
        if (null === $value) {
            return null;
        }
        $day = str_starts_with($value, 'before:') ? substr($value, 7) : '';
        $moment = \DateTimeImmutable::createFromFormat('!Y-m-d', $day, new \DateTimeZone('UTC'));
        if (false === $moment || $moment->format('Y-m-d') !== $day) {
            throw new BadRequestHttpException();
        }

        return $moment;
    }
}
