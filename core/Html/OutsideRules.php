<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Raw text, templates, framesets, and what comes behind the body (HTML Living Standard, sections 13.2.6.4.8 and 13.2.6.4.16 to
 * 13.2.6.4.21).
 *
 * @internal
 */
final class OutsideRules
{
    public static function inText(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            $at->planter->text($token->text);
        } else {
            $at->stack->pop();
            $at->mode = $at->modeBehindText;
        }
    }

    public static function inTemplate(Construction $at, Token $token): void
    {
        if (TokenKind::Start !== $token->kind || isset(Kinds::IN_HEAD[$token->name])) {
            match ($token->kind) {
                TokenKind::Start => $at->headElement($token),
                TokenKind::Text => BodyRules::inBody($at, $token),
                TokenKind::End => 'template' === $token->name ? $at->endTemplate() : null,
                TokenKind::Doctype => null,
            };

            return;
        }
        $mode = match ($token->name) {
            'caption', 'colgroup', 'tbody', 'tfoot', 'thead' => Mode::InTable,
            'col' => Mode::InColumnGroup,
            'tr' => Mode::InTableBody,
            'td', 'th' => Mode::InRow,
            default => Mode::InBody,
        };
        array_pop($at->templates);
        $at->templates[] = $mode;
        $at->again($mode, $token);
    }

    public static function afterBody(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind && \strlen($token->text) === strspn($token->text, Construction::SPACE)) {
            BodyRules::textInBody($at, $token->text);
        } elseif (!(TokenKind::Doctype === $token->kind || (TokenKind::End === $token->kind && 'html' === $token->name))) {
            $at->again(Mode::InBody, $token);
        }
    }

    public static function inFrameset(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            self::onlySpace($at, $token->text);
        } elseif (TokenKind::Start === $token->kind) {
            match ($token->name) {
                'html' => $at->moreOfHtml($token),
                'frameset' => $at->planter->open($token),
                'frame' => $at->planter->put($token),
                'noframes' => $at->raw($token),
                default => null,
            };
        } elseif (TokenKind::End === $token->kind && 'frameset' === $token->name && $at->stack->count() > 1) {
            $at->stack->pop();
            $at->mode = $at->stack->top()->isHtml('frameset') ? Mode::InFrameset : Mode::AfterFrameset;
        }
    }

    public static function afterFrameset(Construction $at, Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            self::onlySpace($at, $token->text);
        } elseif (TokenKind::Start === $token->kind && 'noframes' === $token->name) {
            $at->raw($token);
        } elseif (TokenKind::Start === $token->kind && 'html' === $token->name) {
            $at->moreOfHtml($token);
        }
    }

    /** Of a text between frames only the white space stands. */
    private static function onlySpace(Construction $at, string $text): void
    {
        $space = (string) preg_replace('/[^ \t\n\f\r]++/', '', $text);
        if ('' !== $space) {
            $at->planter->text($space);
        }
    }
}
