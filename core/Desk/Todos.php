<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/** To-dos in a note in Markdown: items of a list that begin with a box, `- [ ] …` or `- [x] …`, outside of code. */
final class Todos
{
    /** Of one note. */
    public const MOST = 2_000;
    public const LONGEST = 2_000;
    private const BOX = '/^([ \t>]*(?:[-*+]|\d{1,9}[.)])[ \t]+\[)([ xX])(\][ \t]+)(\S.*?)[ \t]*$/Du';
    private const FENCE = '/^[ \t>]{0,20}(`{3,}|~{3,})/';

    /** @return list<Todo> in their order */
    public static function in(string $note): array
    {
        $todos = [];
        $fence = '';
        foreach (explode("\n", strtr($note, ["\r\n" => "\n"])) as $n => $line) {
            if (1 === preg_match(self::FENCE, $line, $m)) {
                $fence = match (true) {
                    '' === $fence => $m[1],
                    $m[1][0] === $fence[0] && \strlen($m[1]) >= \strlen($fence) => '',
                    default => $fence,
                };
            } elseif ('' === $fence && 1 === preg_match(self::BOX, $line, $m)) {
                $todos[] = new Todo($n + 1, mb_substr($m[4], 0, self::LONGEST), ' ' !== $m[2]);
                if (\count($todos) >= self::MOST) {
                    break;
                }
            }
        }

        return $todos;
    }

    /** The note with none of its boxes ticked. */
    public static function unticked(string $note): string
    {
        $lines = explode("\n", $note);
        foreach (self::in($note) as $todo) {
            $lines[$todo->line - 1] = self::ticked($lines[$todo->line - 1], false);
        }

        return implode("\n", $lines);
    }

    /**
     * The note with one of its boxes ticked or not.
     *
     * @param int $line from 1
     *
     * @return string|null null if there is no such to-do in that line
     */
    public static function set(string $note, int $line, string $text, bool $done): ?string
    {
        foreach (self::in($note) as $todo) {
            if ($todo->line === $line && $todo->text === $text) {
                $lines = explode("\n", $note);
                $lines[$line - 1] = self::ticked($lines[$line - 1], $done);

                return implode("\n", $lines);
            }
        }

        return null;
    }

    private static function ticked(string $line, bool $done): string
    {
        return (string) preg_replace('/^([ \t>]*(?:[-*+]|\d{1,9}[.)])[ \t]+\[)[ xX]\]/', '${1}'.($done ? 'x' : ' ').']', $line, 1);
    }
}
